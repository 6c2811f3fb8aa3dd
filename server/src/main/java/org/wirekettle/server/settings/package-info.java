/** What administrators set for the whole project, and the audit log. */
package org.wirekettle.server.settings;
