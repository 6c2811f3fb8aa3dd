/**
 * XPath 3.1 over records. Plain paths, literals and our own functions on them are compiled to Java; the rest runs in
 * Saxon.
 */
package org.wirekettle.expression;
