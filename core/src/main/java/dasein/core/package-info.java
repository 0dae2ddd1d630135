/**
 * All computation of Dasein, in plain Java. Every stage has the same shape, {@code Result compute(Inputs, Recipe,
 * Progress)}: pure, cancellable, deterministic whatever the number of threads.
 */
package dasein.core;
