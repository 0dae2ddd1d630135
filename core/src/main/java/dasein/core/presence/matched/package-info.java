/** Checks that hold the comp's numbers against what is measured in the plate, as matching does. */
package dasein.core.presence.matched;
