/** Keying: a number that changes over frames, by keys and waves over a rest value. */
package dasein.core.key;
