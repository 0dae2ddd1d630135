/** Measures what the plate is like, so that performers can be made like it. */
package dasein.core.comp.match;
