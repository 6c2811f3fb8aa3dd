/**
 * Documents that stand by themselves: their shape as an XSD or a JSON Schema says it, or as samples suggest it; how one
 * is written, and whether it fits.
 */
@org.jspecify.annotations.NullMarked
package org.wirekettle.document;
