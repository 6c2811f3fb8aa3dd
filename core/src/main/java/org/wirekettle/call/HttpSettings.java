package org.wirekettle.call;

/**
 * How to reach one endpoint. Immutable.
 *
 * @param user for HTTP Basic or the token that {@code message} asks for; null for none
 * @param connectTimeoutMillis to open a connection
 * @param callTimeoutMillis for the whole call: connect, handshake, send, wait and read
 * @param parallel calls at a time
 * @param callsPerSecond 0 for no limit
 * @param maxAnswerBytes longer answers are refused
 * @param message what is added to SOAP messages
 * @param trust whose certificates are believed
 * @param logIn how user and password go over HTTP, unless {@code message} has them
 */
public record HttpSettings(
        String url,
        String user,
        String password,
        int connectTimeoutMillis,
        int callTimeoutMillis,
        int parallel,
        double callsPerSecond,
        int maxAnswerBytes,
        MessageSettings message,
        TlsTrust trust,
        HttpLogIn logIn) {
    /** Calls at a time to one service. */
    public static final int MAX_PARALLEL = 256;

    public static final int DEFAULT_CONNECT_TIMEOUT_MILLIS = 5_000;
    public static final int DEFAULT_CALL_TIMEOUT_MILLIS = 30_000;
    /** Bytes of one answer, unless the connection says otherwise. */
    public static final int DEFAULT_MAX_ANSWER_BYTES = 32 * 1024 * 1024;

    public HttpSettings(
            String url,
            String user,
            String password,
            int connectTimeoutMillis,
            int callTimeoutMillis,
            int parallel,
            double callsPerSecond,
            int maxAnswerBytes,
            MessageSettings message) {
        this(
                url,
                user,
                password,
                connectTimeoutMillis,
                callTimeoutMillis,
                parallel,
                callsPerSecond,
                maxAnswerBytes,
                message,
                TlsTrust.SYSTEM,
                HttpLogIn.BASIC);
    }

    public static HttpSettings to(String url) {
        return new HttpSettings(
                url,
                null,
                null,
                DEFAULT_CONNECT_TIMEOUT_MILLIS,
                DEFAULT_CALL_TIMEOUT_MILLIS,
                8,
                0,
                DEFAULT_MAX_ANSWER_BYTES,
                MessageSettings.NONE);
    }

    /** Whether a secret goes with what is sent. */
    public boolean hasLogIn() {
        return user != null || password != null;
    }

    public HttpSettings withParallel(int calls) {
        return with(url, calls, trust, logIn);
    }

    HttpSettings at(String other) {
        return with(other, parallel, trust, logIn);
    }

    public HttpSettings trusting(TlsTrust other) {
        return with(url, parallel, other, logIn);
    }

    public HttpSettings loggingIn(HttpLogIn other) {
        return with(url, parallel, trust, other);
    }

    private HttpSettings with(String otherUrl, int calls, TlsTrust otherTrust, HttpLogIn otherLogIn) {
        return new HttpSettings(
                otherUrl,
                user,
                password,
                connectTimeoutMillis,
                callTimeoutMillis,
                calls,
                callsPerSecond,
                maxAnswerBytes,
                message,
                otherTrust,
                otherLogIn);
    }

    @Override
    public String toString() {
        return "HttpSettings[" + url + (user == null ? "" : ", user " + user) + "]";
    }
}
