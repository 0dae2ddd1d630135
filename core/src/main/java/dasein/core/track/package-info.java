/**
 * Following small marks through the plate. Corners by the smaller eigenvalue of the structure tensor (Shi and Tomasi
 * 1994); following by inverse-compositional alignment (Baker and Matthews 2004) on a pyramid, from frame to frame for
 * reach and against the mark's first look for truth; forward-backward test (Kalal et al. 2010). Marks put by hand and
 * drawn pieces of flat surfaces are followed by the same alignment under a shift up to a homography (PatchAligner).
 * Coordinates are continuous pixels, origin at the top-left corner.
 */
package dasein.core.track;
