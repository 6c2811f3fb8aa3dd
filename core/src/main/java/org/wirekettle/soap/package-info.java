/**
 * Envelopes of SOAP 1.1 and 1.2: written, and read into nodes, by whoever calls and by whoever answers; faults both
 * ways.
 */
package org.wirekettle.soap;
