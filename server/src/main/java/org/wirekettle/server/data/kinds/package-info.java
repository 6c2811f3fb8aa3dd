/** The kinds of sources and targets, one class each. */
package org.wirekettle.server.data.kinds;
