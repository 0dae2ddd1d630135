/** Panoramas as cameras and stitchers give them, made into level lat-long maps. */
package dasein.core.light.pano;
