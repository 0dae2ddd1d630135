/** Checks that look at finished frames. */
package dasein.core.presence.picture;
