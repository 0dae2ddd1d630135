/** Cameras, lenses, lines, hints and moving objects in files of open formats. */
package dasein.core.solve.file;
