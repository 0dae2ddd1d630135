/**
 * The plate: footage as scene-linear frames under the plate's own frame numbers, from a movie file or a folder of
 * numbered stills; its condition frame by frame; rates and timecode.
 */
package dasein.core.plate;
