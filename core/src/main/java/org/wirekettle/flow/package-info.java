/**
 * Flows: their definition, their compilation against contracts, sources and targets, and the engine that runs them over
 * records with calls in parallel, results in order, and the fate of every record known.
 */
package org.wirekettle.flow;
