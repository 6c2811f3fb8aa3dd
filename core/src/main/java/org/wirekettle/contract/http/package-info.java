/** Descriptions of plain HTTP operations: OpenAPI, Swagger and WADL read, and those made by hand written. */
package org.wirekettle.contract.http;
