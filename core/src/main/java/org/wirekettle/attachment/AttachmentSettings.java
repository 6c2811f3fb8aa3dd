package org.wirekettle.attachment;

import org.jspecify.annotations.Nullable;

/**
 * How files go with messages, and where those of answers go. Immutable.
 *
 * @param format of requests
 * @param isToFiles whether parts of answers are put into the folder instead of into the message
 * @param files the folder; null for none
 */
public record AttachmentSettings(
        Format format, boolean isToFiles, @Nullable AttachedFiles files) {
    public static final AttachmentSettings NONE = new AttachmentSettings(Format.INSIDE, false, null);

    /** How a file goes. */
    public enum Format {
        /** In Base64 inside the message. */
        INSIDE,
        /** In a part of its own, as SOAP 1.2 MTOM §3 and XOP 1.0 §4 say; so do messages without a file. */
        MTOM,
        /** In a part of its own that the message names, as SOAP Messages with Attachments says. */
        WITH_ATTACHMENTS
    }
}
