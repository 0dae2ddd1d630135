/**
 * What a person decides about performers (place, clips, looks, routes, ties, flocks, cards) and what it means over time
 * ({@link dasein.core.cast.Blocking}).
 */
package dasein.core.cast;
