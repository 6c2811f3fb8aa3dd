/** What starts flows by themselves: today schedules. */
package org.wirekettle.server.triggers;
