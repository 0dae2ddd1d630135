/** Putting plate and passes together by one fixed recipe: plate x shadow + bounce + reflection, performer over. */
package dasein.core.comp;
