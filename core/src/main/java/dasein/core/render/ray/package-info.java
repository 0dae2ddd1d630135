/**
 * Rays against triangles: {@link dasein.core.render.ray.Tracer} over one eight-wide tree a mesh. Eight boxes, and eight
 * triangles, are tested at once where the machine and its Java have vectors of eight floats, else one after the other;
 * both find the same. Literature: Wald 2007 (binned surface-area heuristic), Wald, Benthin and Boulos 2008 (wide
 * trees), Möller and Trumbore 1997 (triangle), Ize 2013 (boxes that do not leak).
 */
package dasein.core.render.ray;
