/**
 * The shot document: one immutable value with a recipe for every stage, its JSON form, fingerprints, and the scene it
 * describes.
 */
package dasein.core.shot;
