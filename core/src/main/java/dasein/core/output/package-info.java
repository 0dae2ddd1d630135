/** Finished frames as others want them: cut to a shape, lettered, named, and listed with what they are. */
package dasein.core.output;
