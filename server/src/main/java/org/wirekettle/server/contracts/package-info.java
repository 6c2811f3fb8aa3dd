/** Contracts: importing, showing, and trying their operations on the Bench. */
package org.wirekettle.server.contracts;
