package org.wirekettle.call;

/**
 * What a call may take. Immutable.
 *
 * @param connectMillis to open a connection, the handshake included
 * @param answerMillis of silence while an answer is waited for or read
 * @param callMillis for the whole call: connect, handshake, send, wait and read
 * @param parallel calls at a time
 * @param callsPerSecond 0 for no limit
 * @param maxAnswerBytes longer answers are refused
 */
public record HttpLimits(
        int connectMillis, int answerMillis, int callMillis, int parallel, double callsPerSecond, int maxAnswerBytes) {
    /** Calls at a time to one service. */
    public static final int MAX_PARALLEL = 256;

    public static final int DEFAULT_CONNECT_MILLIS = 5_000;
    public static final int DEFAULT_CALL_MILLIS = 30_000;
    public static final int DEFAULT_PARALLEL = 8;
    /** Bytes of one answer, unless the connection says otherwise. */
    public static final int DEFAULT_MAX_ANSWER_BYTES = 32 * 1024 * 1024;

    public static final HttpLimits USUAL = new HttpLimits(
            DEFAULT_CONNECT_MILLIS,
            DEFAULT_CALL_MILLIS,
            DEFAULT_CALL_MILLIS,
            DEFAULT_PARALLEL,
            0,
            DEFAULT_MAX_ANSWER_BYTES);

    /** @param wholeMillis for the whole call, silence included */
    public HttpLimits within(int connect, int wholeMillis) {
        return new HttpLimits(connect, wholeMillis, wholeMillis, parallel, callsPerSecond, maxAnswerBytes);
    }

    public HttpLimits silentFor(int answer) {
        return new HttpLimits(connectMillis, answer, callMillis, parallel, callsPerSecond, maxAnswerBytes);
    }

    public HttpLimits atATime(int calls) {
        return new HttpLimits(connectMillis, answerMillis, callMillis, calls, callsPerSecond, maxAnswerBytes);
    }

    public HttpLimits atMost(int answerBytes) {
        return new HttpLimits(connectMillis, answerMillis, callMillis, parallel, callsPerSecond, answerBytes);
    }
}
