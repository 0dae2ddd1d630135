/** Lamps that stand in the set: what a person sets, and what shines in a frame. */
package dasein.core.light.lamp;
