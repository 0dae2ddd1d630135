/**
 * Where the sun stands and how large and strong it is: from shadows in the plate, from place and time, from the ground.
 */
package dasein.core.light.sun;
