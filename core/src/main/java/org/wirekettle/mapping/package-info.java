/**
 * Fill and pick are one engine: rules on the rows of a target shape, compiled once, run for every record. A fill's
 * target is a message and its output XML; a pick's target is a table row and its output records.
 */
package org.wirekettle.mapping;
