/**
 * The tree of fields of any message, source or target. A {@link org.wirekettle.shape.Shape} says what may stand where,
 * how often, and of which type; it knows nothing of values. Children are made when asked for, so recursive types are
 * finite to hold.
 */
package org.wirekettle.shape;
