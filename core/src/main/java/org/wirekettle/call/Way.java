package org.wirekettle.call;

/**
 * How a call got to its service, and how often it set out: parts of the time before the request began to be sent.
 *
 * @param queueMicros until there was a place among the calls at a time
 * @param nameMicros for looking up the host; 0, like the next two, where a connection was kept from before
 * @param connectMicros for the TCP connection
 * @param tlsMicros for agreeing on TLS
 * @param attempts this one included
 */
public record Way(long queueMicros, long nameMicros, long connectMicros, long tlsMicros, int attempts) {
    /** Nothing is known of it. */
    public static final Way UNKNOWN = new Way(0, 0, 0, 0, 1);

    Way after(int all) {
        return new Way(queueMicros, nameMicros, connectMicros, tlsMicros, all);
    }

    public boolean isKnown() {
        return !equals(UNKNOWN);
    }
}
