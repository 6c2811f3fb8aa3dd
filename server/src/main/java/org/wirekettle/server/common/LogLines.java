package org.wirekettle.server.common;

import io.quarkus.logging.LoggingFilter;
import io.vertx.core.http.HttpClosedException;
import java.nio.channels.ClosedChannelException;
import java.util.logging.Filter;
import java.util.logging.LogRecord;
import org.jboss.logmanager.ExtLogRecord;
import org.jboss.logmanager.ExtLogRecord.FormatStyle;
import org.jboss.logmanager.Level;

/**
 * Keeps what users send from looking like lines of the log: control characters in messages are escaped, those of
 * exceptions too. That a page which follows a run was left while it was being told is no error, and not logged; that
 * the scheduler finds the database away is one line.
 */
@LoggingFilter(name = "log-lines")
public final class LogLines implements Filter {
    private static final int MAX_DEPTH = 10;
    private static final String STREAMS = ".PublisherResponseHandler";
    private static final String SCHEDULER = "com.github.kagkarlsson.scheduler.";

    @Override
    public boolean isLoggable(LogRecord record) {
        if (isPageLeft(record)) {
            return false;
        }
        ExtLogRecord r = ExtLogRecord.wrap(record);
        shortenAway(r);
        String message = r.getFormattedMessage();
        if (message != null && hasControls(message)) {
            r.setMessage(escaped(message), FormatStyle.NO_FORMAT);
            r.setParameters(null);
        }
        if (r.getThrown() != null && isMarked(r.getThrown(), 0)) {
            r.setThrown(new Told(r.getThrown(), 0));
        }
        return true;
    }

    /** The framework takes a connection that closes while an event is sent for an error of the stream. */
    private static boolean isPageLeft(LogRecord r) {
        boolean isOfStreams = r.getLoggerName() != null && r.getLoggerName().endsWith(STREAMS);
        Throwable t = isOfStreams ? r.getThrown() : null;
        for (int depth = 0; t != null && depth < MAX_DEPTH; depth++, t = t.getCause()) {
            if (t instanceof ClosedChannelException || t instanceof HttpClosedException) {
                return true;
            }
        }
        return false;
    }

    /** It looks every two seconds, goes on by itself, and says each time with a stack that it could not. */
    private static void shortenAway(ExtLogRecord r) {
        if (r.getThrown() != null
                && r.getLoggerName() != null
                && r.getLoggerName().startsWith(SCHEDULER)) {
            DatabaseAway.said(r.getThrown()).ifPresent(said -> {
                r.setLevel(Level.WARN);
                r.setMessage("the server's database is away: " + said, FormatStyle.NO_FORMAT);
                r.setParameters(null);
                r.setThrown(null);
            });
        }
    }

    private static boolean isMarked(Throwable t, int depth) {
        return t != null
                && depth < MAX_DEPTH
                && (t.getMessage() != null && hasControls(t.getMessage()) || isMarked(t.getCause(), depth + 1));
    }

    static boolean hasControls(String s) {
        return s.chars().anyMatch(c -> Character.isISOControl(c) && c != '\t' || c == '\u2028' || c == '\u2029');
    }

    static String escaped(String s) {
        StringBuilder out = new StringBuilder(s.length() + 16);
        for (char c : s.toCharArray()) {
            if (c == '\n') {
                out.append("\\n");
            } else if (Character.isISOControl(c) && c != '\t' || c == '\u2028' || c == '\u2029') {
                out.append(String.format("\\u%04x", (int) c));
            } else {
                out.append(c);
            }
        }
        return out.toString();
    }

    /** An exception as it may stand in the log: the same name and stack, its message on one line. */
    private static final class Told extends Throwable {
        private static final long serialVersionUID = 1;
        private final String name;

        Told(Throwable of, int depth) {
            super(
                    of.getMessage() == null ? null : escaped(of.getMessage()),
                    of.getCause() == null || depth >= MAX_DEPTH ? null : new Told(of.getCause(), depth + 1),
                    false,
                    true);
            name = of.getClass().getName();
            setStackTrace(of.getStackTrace());
        }

        @Override
        public String toString() {
            return getMessage() == null ? name : name + ": " + getMessage();
        }
    }
}
