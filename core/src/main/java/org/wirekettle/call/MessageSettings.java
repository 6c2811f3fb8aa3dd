package org.wirekettle.call;

import org.wirekettle.soap.Security;

/**
 * What a connection adds to messages. Immutable.
 *
 * @param addressing whether requests carry WS-Addressing headers
 * @param token whether user and password go as a WS-Security UsernameToken instead of HTTP Basic
 * @param timestamp whether requests carry a WS-Security timestamp
 */
public record MessageSettings(boolean addressing, Security.Token token, boolean timestamp) {
    public static final MessageSettings NONE = new MessageSettings(false, Security.Token.NONE, false);

    boolean isSecured() {
        return token != Security.Token.NONE || timestamp;
    }
}
