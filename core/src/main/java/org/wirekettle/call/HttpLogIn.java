package org.wirekettle.call;

import org.jspecify.annotations.Nullable;

/**
 * Who we are to a service, and how that goes over HTTP. Immutable.
 *
 * @param user null where the way has none, or nothing is to go
 * @param password its secret: a password, a token or a key
 * @param keyName for a key: the header or the query parameter that carries it
 * @param domain for NTLM: whose account it is; null for the service's own
 * @param tokens for OAuth 2
 */
public record HttpLogIn(
        Kind kind,
        @Nullable String user,
        @Nullable String password,
        @Nullable String keyName,
        @Nullable String domain,
        @Nullable TokenPlace tokens) {
    /** The ways. */
    public enum Kind {
        /** User and password with each request, unasked (RFC 7617). */
        BASIC,
        /** The same, but only when the service asks for it. */
        BASIC_ASKED,
        /** When the service asks, the password proven without being sent (RFC 7616); each call is asked first. */
        DIGEST,
        /** The same for accounts of a Windows domain (MS-NLMP, version 2): a connection is asked once. */
        NTLM,
        /** The password is a token that is sent as it is (RFC 6750). */
        BEARER,
        /** The password is a key that is sent in a header of its own. */
        KEY,
        /** The password is a key that is sent as a parameter of the address. */
        QUERY_KEY,
        /** User and password are those of a client that is given tokens (RFC 6749 §4.4). */
        OAUTH
    }

    /**
     * Where tokens are had.
     *
     * @param scope what the token is to allow; null for the service's own choice
     * @param audience whom it is for; null for not said
     */
    public record TokenPlace(
            String url, @Nullable String scope, @Nullable String audience) {}

    public static final HttpLogIn NONE = basic(null, null);

    public static HttpLogIn basic(@Nullable String user, @Nullable String password) {
        return of(Kind.BASIC, user, password);
    }

    /** A way that needs nothing beside user and password. */
    public static HttpLogIn of(Kind kind, @Nullable String user, @Nullable String password) {
        return new HttpLogIn(kind, user, password, null, null, null);
    }

    public static HttpLogIn key(Kind kind, String name, String key) {
        return new HttpLogIn(kind, null, key, name, null, null);
    }

    public static HttpLogIn ntlm(String user, String password, @Nullable String domain) {
        return new HttpLogIn(Kind.NTLM, user, password, null, domain, null);
    }

    public static HttpLogIn oauth(String user, String password, TokenPlace tokens) {
        return new HttpLogIn(Kind.OAUTH, user, password, null, null, tokens);
    }

    /** Whether a secret goes with what is sent. */
    boolean isSecret() {
        return user != null || password != null;
    }

    /** Without what is secret in it. */
    @Override
    public String toString() {
        return kind + (user == null ? "" : " of " + user);
    }
}
