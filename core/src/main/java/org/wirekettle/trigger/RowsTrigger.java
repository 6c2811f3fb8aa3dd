package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;

/**
 * How a flow takes new rows of a query: those whose rising column is above what was taken. Plain data; stored as it is.
 *
 * @param connection to a database
 * @param query one statement that reads; inputs are its columns, by their names
 * @param column that rises with every new row, such as a number or a time
 * @param earlier whether rows that are there when it is switched on first are taken, too
 * @param everySeconds between two looks; null for 10
 * @param atATime rows worked on beside each other; null for 2
 * @param attempts how often a row is worked on until its record is set aside; null for 3
 * @param waitSeconds before another attempt; null for 5
 * @param text what it is for
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record RowsTrigger(
        String connection,
        String query,
        String column,
        @Nullable Boolean earlier,
        @Nullable Integer everySeconds,
        @Nullable Integer atATime,
        @Nullable Integer attempts,
        @Nullable Integer waitSeconds,
        @Nullable String text)
        implements StandingTrigger {
    private static final int MAX_QUERY = 100_000;
    private static final int MAX_COLUMN = 200;
    private static final int USUAL_EVERY = 10;
    private static final int MOST_EVERY = 86_400;
    private static final int USUAL_AT_A_TIME = 2;
    private static final int MOST_AT_A_TIME = 16;
    private static final int USUAL_ATTEMPTS = 3;
    private static final int MOST_ATTEMPTS = 20;
    private static final int USUAL_WAIT = 5;
    private static final int MOST_WAIT = 3_600;

    public RowsTrigger {
        earlier = earlier == null ? Boolean.FALSE : earlier;
        everySeconds = everySeconds == null ? USUAL_EVERY : everySeconds;
        atATime = atATime == null ? USUAL_AT_A_TIME : atATime;
        attempts = attempts == null ? USUAL_ATTEMPTS : attempts;
        waitSeconds = waitSeconds == null ? USUAL_WAIT : waitSeconds;
    }

    @Override
    public RowsTrigger checked() {
        if (connection == null || connection.isBlank()) {
            throw refused("connection", "Choose the connection to the database.");
        }
        if (query == null || query.isBlank() || query.length() > MAX_QUERY) {
            throw refused(
                    "query", "Write the query whose new rows are taken, of at most " + MAX_QUERY + " characters.");
        }
        if (column == null || column.isBlank() || column.length() > MAX_COLUMN) {
            throw refused("column", "Say which column rises with every new row.");
        }
        Limits.range("rows.everySeconds", "Seconds between two looks are", everySeconds, 1, MOST_EVERY);
        Limits.range("rows.atATime", "Rows at a time are", atATime, 1, MOST_AT_A_TIME);
        Limits.range("rows.attempts", "Attempts are", attempts, 1, MOST_ATTEMPTS);
        Limits.range("rows.waitSeconds", "Seconds before another attempt are", waitSeconds, 0, MOST_WAIT);
        Limits.text("rows.text", text);
        return this;
    }

    @Override
    public String askedBy() {
        return "rows of " + connection + ": " + query;
    }

    private static Refused refused(String what, String text) {
        return new Refused("rows." + what, null, text);
    }
}
