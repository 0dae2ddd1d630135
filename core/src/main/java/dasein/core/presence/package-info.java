/**
 * Measurements of how the CG sits in its plate: each gives a figure, a limit, a sentence, and the stage that mends it.
 */
package dasein.core.presence;
