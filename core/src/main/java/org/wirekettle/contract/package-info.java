/**
 * Service descriptions (WSDL 1.1): services, ports, operations and the shapes of their messages, read with as much
 * tolerance as messages allow.
 */
package org.wirekettle.contract;
