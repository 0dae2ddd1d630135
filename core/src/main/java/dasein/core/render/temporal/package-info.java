/** Noise filtered out over neighbouring frames of what is rendered already. */
package dasein.core.render.temporal;
