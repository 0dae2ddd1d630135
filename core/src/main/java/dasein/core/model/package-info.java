/**
 * Models: meshes of triangles, materials, nodes, skins, morph targets and clips (glTF 2.0, Khronos), and their pose at
 * any moment. Units metres, +Y up, a model faces +Z as glTF wants it.
 */
package dasein.core.model;
