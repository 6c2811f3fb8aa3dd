/**
 * One shape for everything that can be wrong with foreign input: a code, a severity, where, what, and what was assumed
 * or can be done.
 */
package org.wirekettle.problem;
