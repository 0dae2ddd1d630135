/** Models and motions in files of open formats: what is read is checked before memory is taken. */
package dasein.core.model.file;
