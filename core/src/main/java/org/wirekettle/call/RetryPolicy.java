package org.wirekettle.call;

import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Optional;
import org.wirekettle.call.Exchange.Outcome;

/**
 * Whether a call is made again. A pure decision: only what cannot have reached the service and may pass by itself, what
 * the service says it has not worked on, or what is marked safe to repeat.
 *
 * @param retries at most so many further attempts
 * @param firstMillis before the first of them; doubled each time
 * @param on codes of failures that are tried again, see {@link FailureCode#isAmong}
 */
public record RetryPolicy(int retries, boolean safeToRepeat, long firstMillis, List<String> on) {
    public static final int DEFAULT_RETRIES = 2;
    public static final long DEFAULT_FIRST_MILLIS = 200;
    /** The service was not reached, or says by its status that it has not worked on the call (RFC 9110 §15.6.4). */
    public static final List<String> DEFAULT_ON = List.of("unreachable", "HTTP 429", "HTTP 503");

    private static final int MAX_DOUBLINGS = 6;
    /** A service that wants more time than this gets no further attempt. */
    private static final long LONGEST_MILLIS = 60_000;
    /** Of the wait, so that many who failed together do not come back together. */
    private static final double JITTER = 0.25;

    public RetryPolicy(int retries, boolean safeToRepeat) {
        this(retries, safeToRepeat, DEFAULT_FIRST_MILLIS, DEFAULT_ON);
    }

    public RetryPolicy {
        on = List.copyOf(on);
    }

    /** The same for an operation that is safe to repeat, or not. */
    public RetryPolicy repeating(boolean isSafe) {
        return new RetryPolicy(retries, isSafe, firstMillis, on);
    }

    /**
     * @param attempt how many were made, from 1
     * @param chance from 0 to 1
     * @return the delay in milliseconds before the next attempt; empty to leave it
     */
    public Optional<Long> again(Exchange x, int attempt, double chance, Instant now) {
        if (attempt > retries || !isAgain(x)) {
            return Optional.empty();
        }
        double backOff = firstMillis * (double) (1L << Math.min(attempt - 1, MAX_DOUBLINGS));
        long wait = Math.round(backOff * (1 - JITTER + 2 * JITTER * chance));
        long wanted = Math.max(wait, retryAfter(x, now));
        return wanted > LONGEST_MILLIS ? Optional.empty() : Optional.of(wanted);
    }

    private boolean isAgain(Exchange x) {
        if (x.outcome() == Outcome.IN_DOUBT) {
            return safeToRepeat;
        }
        if (x.outcome() == Outcome.UNREACHABLE) {
            FailureCode code = x.code() == null ? FailureCode.UNREACHABLE : x.code();
            return code.isPassing() && FailureCode.isAmong(on, code.code());
        }
        return x.status() >= 400 && FailureCode.isAmong(on, FailureCode.HTTP_STATUS.code() + " " + x.status());
    }

    /** Milliseconds that the service asks for (RFC 9110 §10.2.3); 0 for none. */
    private static long retryAfter(Exchange x, Instant now) {
        for (String[] h : x.answerHeaders()) {
            if (h[0].equalsIgnoreCase("Retry-After") && h[1] != null) {
                String said = h[1].strip();
                if (said.matches("\\d{1,9}")) {
                    return Duration.ofSeconds(Long.parseLong(said)).toMillis();
                }
                try {
                    Instant until = ZonedDateTime.parse(said, DateTimeFormatter.RFC_1123_DATE_TIME)
                            .toInstant();
                    return Math.max(0, Duration.between(now, until).toMillis());
                } catch (DateTimeParseException e) {
                    return 0;
                }
            }
        }
        return 0;
    }
}
