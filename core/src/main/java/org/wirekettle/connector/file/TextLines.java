package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.Reader;

/** The lines of a text, none longer than memory takes. Used by one thread. */
final class TextLines implements AutoCloseable {
    private final Reader in;
    private final char[] buffer = new char[1 << 16];
    private int at;
    private int end;
    private final StringBuilder line = new StringBuilder();
    private long number;
    private boolean isCut;

    TextLines(Reader text) {
        in = text;
    }

    /** @return whether there is a character at hand */
    private boolean has() throws IOException {
        if (at == end) {
            end = Math.max(0, in.read(buffer, 0, buffer.length));
            at = 0;
        }
        return at < end;
    }

    /** @return without its end; null after the last */
    String next() throws IOException {
        line.setLength(0);
        isCut = false;
        if (!has()) {
            return null;
        }
        number++;
        while (has()) {
            int from = at;
            while (at < end && buffer[at] != '\n' && buffer[at] != '\r') {
                at++;
            }
            int room = Math.min(at - from, RecordLimits.MAX_LINE_CHARS - line.length());
            isCut |= room < at - from;
            line.append(buffer, from, room);
            if (at < end) {
                break;
            }
        }
        if (at < end && buffer[at++] == '\r' && has() && buffer[at] == '\n') {
            at++;
        }
        String out = line.toString();
        return number == 1 ? Decoding.withoutByteOrderMark(out) : out;
    }

    /** Of the line that was read last, from 1. */
    long number() {
        return number;
    }

    /** Whether the line that was read last is longer, and was cut. */
    boolean isCut() {
        return isCut;
    }

    @Override
    public void close() throws IOException {
        in.close();
    }
}
