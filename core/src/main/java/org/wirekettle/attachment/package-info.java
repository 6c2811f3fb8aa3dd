/**
 * What goes beside a message, or comes beside one: files taken from a folder and put there, packages of several parts
 * (MTOM, XOP 1.0, SOAP Messages with Attachments) written and read without holding them in memory.
 */
@org.jspecify.annotations.NullMarked
package org.wirekettle.attachment;
