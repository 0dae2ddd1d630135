/**
 * Readers and writers of open file formats. They check sizes before they allocate, and say in a sentence what is wrong
 * with a file. Everything is written to a temporary name first and then renamed.
 */
package dasein.core.format;
