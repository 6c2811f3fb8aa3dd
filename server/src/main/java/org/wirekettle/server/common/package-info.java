/** What all features share: the answer to a wrong request, JSON, settings. */
package org.wirekettle.server.common;
