/**
 * The 24-patch colour chart: found in a photograph, read, and turned into the matrix that makes the camera's light
 * scene-linear Rec. 709. Corners are those of the field of 6 x 4 cells, in the chart's own order: beside dark skin,
 * bluish green, black, white.
 */
package dasein.core.light.chart;
