/** Connections: where services and databases are in each environment, with credentials and limits. */
package org.wirekettle.server.connections;
