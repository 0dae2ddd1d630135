/**
 * From 2D tracks to camera and points. Inside this package cameras look along +Z with y down (Hartley and Zisserman): a
 * world point X maps to R (X - C), then to x = X/Z, y = Y/Z, the lens, and pixels;
 * {@link dasein.core.solve.SolvedCamera} turns the result into the product's convention. Points are homogeneous unit
 * 4-vectors, so that those far away are harmless. Literature: Nistér 2004; Stewénius et al. 2006; Grunert 1841 in
 * Haralick et al. 1994; Triggs et al. 2000; Torr 1998.
 */
package dasein.core.solve;
