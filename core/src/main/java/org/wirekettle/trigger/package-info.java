/** What has flows start by themselves. Knows neither database nor server; the time is handed in. */
package org.wirekettle.trigger;
