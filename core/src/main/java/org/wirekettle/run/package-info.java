/**
 * Running a compiled flow over many records, each of which ends with one fate: the engine, the journal of what was
 * sent, what is delivered to targets, and the trails that are kept. Knows neither database nor server.
 */
package org.wirekettle.run;
