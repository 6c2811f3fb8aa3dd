package org.wirekettle.connector.file;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.Reader;

/** The lines of a text, none longer than memory takes. Used by one thread. */
final class TextLines implements AutoCloseable {
    private final BufferedReader in;
    private final StringBuilder line = new StringBuilder();
    private long number;
    private boolean isCut;

    TextLines(Reader text) {
        in = new BufferedReader(text, 1 << 16);
    }

    /** @return without its end; null after the last */
    String next() throws IOException {
        line.setLength(0);
        isCut = false;
        int c = in.read();
        if (c < 0) {
            return null;
        }
        number++;
        for (; c >= 0 && c != '\n' && c != '\r'; c = in.read()) {
            if (line.length() < RecordLimits.MAX_LINE_CHARS) {
                line.append((char) c);
            } else {
                isCut = true;
            }
        }
        if (c == '\r') {
            in.mark(1);
            if (in.read() != '\n') {
                in.reset();
            }
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
