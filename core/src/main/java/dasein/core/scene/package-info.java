/**
 * Performers over time: models with nodes, skins, morph targets and clips (glTF 2.0, Khronos), placed in the set and
 * evaluated to triangles at any moment of a frame. Units metres, +Y up, a model faces +Z as glTF wants it.
 */
package dasein.core.scene;
