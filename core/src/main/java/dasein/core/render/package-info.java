/**
 * Path tracing of performers into a plate. World: right-handed, +Y up, metres. Radiance is scene-linear, relative to
 * plate 1.0. Geometry lies in flat float arrays; a two-level hierarchy (one tree for each mesh) is walked by
 * {@link dasein.core.render.ray.Tracer}. Literature: Pharr, Jakob and Humphreys, "Physically Based Rendering"; Veach
 * 1997; Walter et al. 2007; Heitz 2018; Debevec 1998.
 */
package dasein.core.render;
