/**
 * The lens between world and pixel. Normalised coordinates: x right, y down, on the plane at unit distance; r the
 * undistorted radius. Radial and tangential distortion after Brown 1971, letters and signs as in OpenCV's camera model:
 *
 * <pre>
 * x' = x (1 + k1 r^2 + k2 r^4 + k3 r^6) + 2 p1 x y + p2 (r^2 + 2 x^2)
 * y' = y (1 + k1 r^2 + k2 r^4 + k3 r^6) + p1 (r^2 + 2 y^2) + 2 p2 x y
 * </pre>
 *
 * Pixels: origin at the top-left corner, y down.
 */
package dasein.core.lens;
