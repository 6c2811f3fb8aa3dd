package org.wirekettle.call;

import java.io.IOException;
import java.io.InputStream;
import org.apache.hc.core5.http.HttpEntity;
import org.jspecify.annotations.Nullable;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.attachment.Incoming;

/** Reads the bytes of an answer, as many as may be; of one that has several parts, the message they make together. */
final class AnswerBody {
    /** Up to here memory is set aside for as many bytes as an answer says it has, before they are there. */
    private static final int MAX_BELIEVED_BYTES = 1024 * 1024;

    private AnswerBody() {}

    /** The service answered, but with more than we take. */
    static final class TooLong extends IOException {
        private static final long serialVersionUID = 1;

        TooLong(String message) {
            super(message);
        }
    }

    private static byte[] related(HttpEntity entity, int maxBytes, AttachmentSettings attachments) throws IOException {
        try (InputStream in = entity.getContent()) {
            // Without a length or chunks only the last boundary tells that all is there (RFC 9112 §6.3).
            boolean isFramed = entity.getContentLength() >= 0 || entity.isChunked();
            return Incoming.read(in, entity.getContentType(), attachments, maxBytes, isFramed);
        } catch (Incoming.TooLong | AttachedFiles.TooLarge e) {
            throw new TooLong(e.getMessage());
        }
    }

    /**
     * @param attachments where parts of an answer go that has several
     * @throws TooLong when there are more than {@code maxBytes}
     */
    static byte[] read(@Nullable HttpEntity entity, int maxBytes, AttachmentSettings attachments) throws IOException {
        if (entity == null) {
            return new byte[0];
        }
        if (Incoming.isOf(entity.getContentType())) {
            return related(entity, maxBytes, attachments);
        }
        try (InputStream in = entity.getContent()) {
            long said = entity.getContentLength();
            if (said >= 0 && said <= Math.min(maxBytes, MAX_BELIEVED_BYTES)) {
                // The client sees to it that there are so many: fewer are an error, more belong to the next answer.
                byte[] answer = new byte[(int) said];
                int length = in.readNBytes(answer, 0, answer.length);
                // At the end the connection goes back to the pool.
                boolean isWhole = in.read() < 0 && length == answer.length;
                if (isWhole) {
                    return answer;
                }
                throw new IOException("the answer has not the length that its Content-Length says");
            }
            byte[] answer = in.readNBytes(maxBytes);
            if (answer.length == maxBytes && in.read() >= 0) {
                throw new TooLong("the answer is longer than " + maxBytes + " bytes, the connection's limit");
            }
            return answer;
        }
    }
}
