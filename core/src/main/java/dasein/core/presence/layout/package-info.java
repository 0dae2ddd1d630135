/** Checks of how things stand: they need no rendered frame. */
package dasein.core.presence.layout;
