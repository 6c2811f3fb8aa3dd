package org.wirekettle.server.common;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertSame;
import static org.testng.Assert.assertTrue;

import java.io.IOException;
import java.nio.channels.ClosedChannelException;
import java.sql.SQLException;
import java.util.logging.Level;
import org.jboss.logmanager.ExtLogRecord;
import org.testng.annotations.Test;

/** What users send cannot look like a line of the log. */
public class LogLinesTest {
    private static ExtLogRecord filtered(String message, Throwable thrown, Object... parameters) {
        ExtLogRecord r =
                new ExtLogRecord(Level.INFO, message, ExtLogRecord.FormatStyle.PRINTF, LogLinesTest.class.getName());
        r.setParameters(parameters.length == 0 ? null : parameters);
        r.setThrown(thrown);
        assertTrue(new LogLines().isLoggable(r), "nothing is kept out of the log");
        return r;
    }

    private static boolean isLogged(String logger, Throwable thrown) {
        ExtLogRecord r = new ExtLogRecord(Level.SEVERE, "an event", LogLinesTest.class.getName());
        r.setLoggerName(logger);
        r.setThrown(thrown);
        return new LogLines().isLoggable(r);
    }

    @Test
    public void thatAPageWasLeftWhileItWasToldIsNotLogged() {
        String streams = "org.jboss.resteasy.reactive.server.handlers.PublisherResponseHandler";
        assertFalse(isLogged(streams, new ClosedChannelException()));
        assertFalse(isLogged(streams, new IOException(new ClosedChannelException())));
        assertTrue(isLogged(streams, new IllegalStateException("a defect of ours")));
        assertTrue(isLogged(streams, null));
        assertTrue(isLogged("org.wirekettle.run", new ClosedChannelException()), "a file of ours");
        assertTrue(isLogged(null, new ClosedChannelException()));
    }

    @Test
    public void thatTheSchedulerFindsTheDatabaseAwayIsOneLineAndNoError() {
        ExtLogRecord r = scheduler(new SQLException("connection refused", "08001"));
        assertEquals(r.getLevel().getName(), "WARN");
        assertEquals(r.getFormattedMessage(), "the server's database is away: connection refused");
        assertNull(r.getThrown());
        SQLException defect = new SQLException("no such column", "42703");
        assertEquals(scheduler(defect).getLevel(), Level.SEVERE);
        assertSame(scheduler(defect).getThrown().getCause(), defect);
    }

    private static ExtLogRecord scheduler(SQLException cause) {
        ExtLogRecord r = new ExtLogRecord(Level.SEVERE, "Unhandled exception.", LogLinesTest.class.getName());
        r.setLoggerName("com.github.kagkarlsson.scheduler.RunUntilShutdown");
        r.setThrown(new IllegalStateException("Unable to open connection", cause));
        assertTrue(new LogLines().isLoggable(r));
        return r;
    }

    @Test
    public void aLineBreakInAParameterIsEscaped() {
        ExtLogRecord r = filtered("%s logged in", null, "me\n12:00:00 INFO admin logged in\u001b[2K\u2028");
        assertEquals(r.getFormattedMessage(), "me\\n12:00:00 INFO admin logged in\\u001b[2K\\u2028 logged in");
        assertNull(r.getParameters());
    }

    @Test
    public void anOrdinaryLineIsLeftAlone() {
        ExtLogRecord r = filtered("run %d\tended: 100 %% größer", null, 7);
        assertEquals(r.getFormattedMessage(), "run 7\tended: 100 % größer");
        assertEquals(r.getParameters(), new Object[] {7});
    }

    @Test
    public void whatHasPercentSignsAndBreaksIsNotFormattedAgain() {
        assertEquals(filtered("%s", null, "50 %d\r").getFormattedMessage(), "50 %d\\u000d");
    }

    @Test
    public void exceptionsKeepTheirNameAndStackButNotTheirBreaks() {
        Exception inner = new IllegalStateException("inner\nERROR forged");
        Exception outer = new RuntimeException("outer", inner);
        Throwable told = filtered("failed", outer).getThrown();
        assertEquals(told.toString(), "java.lang.RuntimeException: outer");
        assertEquals(told.getCause().toString(), "java.lang.IllegalStateException: inner\\nERROR forged");
        assertEquals(told.getStackTrace(), outer.getStackTrace());
        Exception plain = new RuntimeException("plain");
        assertSame(filtered("failed", plain).getThrown(), plain);
        Exception silent = new RuntimeException((String) null);
        assertSame(filtered("failed", silent).getThrown(), silent);
    }

    @Test
    public void aRingOfCausesEnds() {
        Exception a = new RuntimeException("a\nb");
        Exception b = new RuntimeException("c", a);
        a.initCause(b);
        assertFalse(filtered("failed", a).getThrown().toString().contains("\n"));
    }
}
