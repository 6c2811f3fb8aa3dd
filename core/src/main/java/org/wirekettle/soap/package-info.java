/** Envelopes of SOAP 1.1 and 1.2: written around a filled body, read into nodes, faults decoded. */
package org.wirekettle.soap;
