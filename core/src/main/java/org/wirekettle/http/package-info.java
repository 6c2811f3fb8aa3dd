/** Messages of plain HTTP operations: written around what was filled, read into the same kind of tree as SOAP's. */
package org.wirekettle.http;
