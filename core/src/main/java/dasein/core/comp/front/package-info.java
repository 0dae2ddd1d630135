/** What of the plate stands in front of performers. */
package dasein.core.comp.front;
