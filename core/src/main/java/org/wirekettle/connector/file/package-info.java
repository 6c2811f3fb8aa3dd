/**
 * Files as sources and targets of records: one class a format, and what puts records of several rows or files together.
 */
package org.wirekettle.connector.file;
