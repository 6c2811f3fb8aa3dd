/** Who may do what: accounts, passwords, sessions, roles. */
package org.wirekettle.server.access;
