/** The frame around all features: what the navigation shows, and the page itself. */
package org.wirekettle.server.overview;
