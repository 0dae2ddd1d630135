/** Light where no map was shot: a sky model, and the plate's own frames joined into the part of the sphere they saw. */
package dasein.core.light.sky;
