/** Data: sources that records are read from, and targets that results are written to. */
package org.wirekettle.server.data;
