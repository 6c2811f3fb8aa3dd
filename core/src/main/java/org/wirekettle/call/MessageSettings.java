package org.wirekettle.call;

import java.util.List;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.soap.Security;

/**
 * What a connection adds to messages. Immutable.
 *
 * @param addressing whether requests carry WS-Addressing headers
 * @param token whether user and password go as a WS-Security UsernameToken instead of HTTP Basic
 * @param timestamp whether requests carry a WS-Security timestamp
 * @param timestampSeconds how long that counts
 * @param mustUnderstand whether the headers it adds must be understood (SOAP 1.1 §4.2.3, SOAP 1.2 part 1 §5.2.3); null
 *     for security only
 * @param secrets values inside messages that are shown to nobody
 * @param attachments how files go with messages
 * @param headers header blocks of each SOAP message, as XML; empty for none
 * @param role whom they are for (actor in SOAP 1.1 §4.2.2), a URI; null for the last receiver
 */
public record MessageSettings(
        boolean addressing,
        Security.Token token,
        boolean timestamp,
        int timestampSeconds,
        Boolean mustUnderstand,
        String role,
        List<String> secrets,
        MessageSigning signing,
        AttachmentSettings attachments,
        String headers) {
    public static final int DEFAULT_TIMESTAMP_SECONDS = 300;
    public static final MessageSettings NONE = new MessageSettings(false, Security.Token.NONE, false);

    public MessageSettings(boolean addressing, Security.Token token, boolean timestamp) {
        this(
                addressing,
                token,
                timestamp,
                DEFAULT_TIMESTAMP_SECONDS,
                null,
                null,
                List.of(),
                MessageSigning.NONE,
                AttachmentSettings.NONE,
                "");
    }

    /** The same, with files. */
    public MessageSettings attaching(AttachmentSettings other) {
        return new MessageSettings(
                addressing, token, timestamp, timestampSeconds, mustUnderstand, role, secrets, signing, other, headers);
    }

    /** The same, with these header blocks. */
    public MessageSettings heading(String blocks) {
        return new MessageSettings(
                addressing,
                token,
                timestamp,
                timestampSeconds,
                mustUnderstand,
                role,
                secrets,
                signing,
                attachments,
                blocks);
    }

    /** Whether something secret is in the messages themselves. */
    boolean isSecret() {
        return isSecured() || !secrets.isEmpty();
    }

    boolean isSecured() {
        return token != Security.Token.NONE || timestamp;
    }
}
