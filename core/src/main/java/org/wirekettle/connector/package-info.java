/**
 * Where records come from and where result records go. A new kind is one class here, one registration in the server and
 * one panel.
 */
package org.wirekettle.connector;
