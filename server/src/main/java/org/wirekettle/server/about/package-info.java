/** What people say about the things of a project: descriptions, labels, notes, and which are marked. */
package org.wirekettle.server.about;
