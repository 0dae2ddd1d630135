/**
 * Photographs of one view at several exposures, and the light in it: what their codes mean, how they lie on each other,
 * and their mean.
 */
package dasein.core.light.photo;
