/**
 * Values as a tree. A record of any origin, and any message read, is the same kind of tree, so one expression language
 * serves all.
 */
package org.wirekettle.record;
