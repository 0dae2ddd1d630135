/** The plate mended before anything is laid over it: markers covered, what moves through it taken out. */
package dasein.core.comp.repair;
