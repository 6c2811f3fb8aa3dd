/**
 * What a flow takes from whoever starts it: its inputs with their types and limits, and how a request's values become
 * the record it works on.
 */
package org.wirekettle.input;
