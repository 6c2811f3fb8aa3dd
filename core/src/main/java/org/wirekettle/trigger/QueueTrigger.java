package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;
import org.wirekettle.trigger.MessageInputs.MessagePlace;

/**
 * How a flow takes messages of a queue. Plain data; stored as it is.
 *
 * @param connection to the broker
 * @param atATime messages worked on beside each other; null for 4
 * @param attempts how often a message is worked on until it is set aside; null for 3
 * @param waitSeconds before another attempt; null for 5
 * @param failed the queue that messages go to that failed; null to have their records in the tray only
 * @param replies the queue that answers to messages go to which name none; null for nowhere
 * @param places of inputs that come from elsewhere than a member of the body
 * @param maxBodyBytes of a message; null for one million
 * @param text what it is for
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record QueueTrigger(
        String connection,
        String queue,
        @Nullable Integer atATime,
        @Nullable Integer attempts,
        @Nullable Integer waitSeconds,
        @Nullable String failed,
        @Nullable String replies,
        @Nullable List<MessagePlace> places,
        @Nullable Integer maxBodyBytes,
        @Nullable String text)
        implements StandingTrigger {
    private static final int USUAL_AT_A_TIME = 4;
    private static final int MOST_AT_A_TIME = 64;
    private static final int USUAL_ATTEMPTS = 3;
    private static final int MOST_ATTEMPTS = 20;
    private static final int USUAL_WAIT = 5;
    private static final int MOST_WAIT = 3_600;
    private static final int MAX_NAME = 200;

    public QueueTrigger {
        atATime = atATime == null ? USUAL_AT_A_TIME : atATime;
        attempts = attempts == null ? USUAL_ATTEMPTS : attempts;
        waitSeconds = waitSeconds == null ? USUAL_WAIT : waitSeconds;
        maxBodyBytes = maxBodyBytes == null ? HttpTrigger.USUAL_BODY_BYTES : maxBodyBytes;
        places = places == null ? List.of() : List.copyOf(places);
        failed = failed == null || failed.isBlank() ? null : failed.strip();
        replies = replies == null || replies.isBlank() ? null : replies.strip();
    }

    @Override
    public QueueTrigger checked() {
        if (connection == null || connection.isBlank()) {
            throw refused("connection", "Choose the connection to the broker.");
        }
        if (queue == null || queue.isBlank()) {
            throw refused("queue", "Name the queue that messages are taken of.");
        }
        for (String name : new String[] {queue, failed, replies}) {
            if (name != null && !isName(name)) {
                throw refused(
                        "queue",
                        "A queue's name has at most " + MAX_NAME + " characters, none of them a control character.");
            }
        }
        if (queue.equals(failed) || queue.equals(replies)) {
            throw refused("queue", "What is put on the queue itself would be taken of it again; name another one.");
        }
        Limits.range("queue.atATime", "Messages at a time are", atATime, 1, MOST_AT_A_TIME);
        Limits.range("queue.attempts", "Attempts are", attempts, 1, MOST_ATTEMPTS);
        Limits.range("queue.waitSeconds", "Seconds before another attempt are", waitSeconds, 0, MOST_WAIT);
        Limits.range("queue.maxBodyBytes", "The bytes of a body are", maxBodyBytes, 1, HttpTrigger.MOST_BODY_BYTES);
        Limits.text("queue.text", text);
        return this;
    }

    /** Whether a queue may be named so. */
    public static boolean isName(String name) {
        return !name.isBlank() && name.length() <= MAX_NAME && name.chars().noneMatch(Character::isISOControl);
    }

    @Override
    public String askedBy() {
        return connection + " " + queue;
    }

    private static Refused refused(String what, String text) {
        return new Refused("queue." + what, null, text);
    }
}
