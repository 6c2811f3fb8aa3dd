/**
 * One call to a service over HTTP: the transport, which addresses may be called, what came of it, and whether it may be
 * tried again.
 */
package org.wirekettle.call;
