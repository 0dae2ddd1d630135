/**
 * Small immutable geometry types and number sequences. Right-handed world, +Y up, metres; angles in radians. Nothing
 * here knows of images, shots or files.
 */
package dasein.core.math;
