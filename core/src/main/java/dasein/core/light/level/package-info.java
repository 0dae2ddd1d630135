/** How bright and of what colour the light is, by surfaces of known reflectance seen in the plate. */
package dasein.core.light.level;
