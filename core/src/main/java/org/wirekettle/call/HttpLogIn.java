package org.wirekettle.call;

import org.jspecify.annotations.Nullable;

/**
 * How a log-in goes over HTTP. Immutable.
 *
 * @param header for a key: the header that carries it
 * @param tokenUrl for OAuth 2: where a token is had
 * @param scope for OAuth 2: what the token is to allow; null for the service's own choice
 */
public record HttpLogIn(
        Kind kind,
        @Nullable String header,
        @Nullable String tokenUrl,
        @Nullable String scope) {
    /** The ways. */
    public enum Kind {
        /** User and password with each request, unasked (RFC 7617). */
        BASIC,
        /** When the service asks, the password proven without being sent (RFC 7616); each call is asked first. */
        DIGEST,
        /** The password is a token that is sent as it is (RFC 6750). */
        BEARER,
        /** The password is a key that is sent in a header of its own. */
        KEY,
        /** User and password are those of a client that is given tokens (RFC 6749 §4.4). */
        OAUTH
    }

    public static final HttpLogIn BASIC = new HttpLogIn(Kind.BASIC, null, null, null);
}
