/**
 * The lens between world and pixel. Normalised coordinates: x right, y down, on the plane at unit distance; {@code distorted =
 * undistorted * (1 + k1 r^2 + k2 r^4)} with r the undistorted radius. Pixels: origin at the top-left corner, y down.
 */
package dasein.core.lens;
