/** From a solve in its own arbitrary frame to the set: the ground plane, origin, heading and true scale. */
package dasein.core.ground;
