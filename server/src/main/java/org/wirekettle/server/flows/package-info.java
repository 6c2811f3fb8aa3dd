/**
 * Flows: their definitions, and what the designer shows while they are made: live values, messages, results,
 * suggestions.
 */
package org.wirekettle.server.flows;
