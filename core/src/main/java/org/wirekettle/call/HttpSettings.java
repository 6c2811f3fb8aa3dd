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
        TlsTrust trust) {
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
                TlsTrust.SYSTEM);
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

    public HttpSettings withParallel(int calls) {
        return new HttpSettings(
                url,
                user,
                password,
                connectTimeoutMillis,
                callTimeoutMillis,
                calls,
                callsPerSecond,
                maxAnswerBytes,
                message,
                trust);
    }

    HttpSettings at(String other) {
        return new HttpSettings(
                other,
                user,
                password,
                connectTimeoutMillis,
                callTimeoutMillis,
                parallel,
                callsPerSecond,
                maxAnswerBytes,
                message,
                trust);
    }

    public HttpSettings trusting(TlsTrust other) {
        return new HttpSettings(
                url,
                user,
                password,
                connectTimeoutMillis,
                callTimeoutMillis,
                parallel,
                callsPerSecond,
                maxAnswerBytes,
                message,
                other);
    }

    @Override
    public String toString() {
        return "HttpSettings[" + url + (user == null ? "" : ", user " + user) + "]";
    }
}
