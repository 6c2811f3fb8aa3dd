package org.wirekettle.run;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.Way;
import org.wirekettle.record.ByteWriter;

/** An exchange as bytes, for journals, trails and the answers kept with records that wait. */
public final class ExchangeBytes {
    private static final Outcome[] OUTCOMES = Outcome.values();
    /** The outcome is in the first two bits of a byte, the number of the failure's code in the others. */
    private static final int CODE_SHIFT = 2;

    private static final int WAY_BYTES = 5 * Integer.BYTES;

    private ExchangeBytes() {}

    public static byte[] write(Exchange x) {
        // Made for every call: of its exact size, it is not copied again.
        ByteWriter out = new ByteWriter(size(x));
        write(x, out);
        return out.toBytes();
    }

    private static int saturated(long micros) {
        return (int) Math.min(Integer.MAX_VALUE, micros);
    }

    private static int size(Exchange x) {
        return 1
                + Integer.BYTES
                + 2 * Long.BYTES
                + (x.way().isKnown() ? WAY_BYTES : 0)
                + size(x.requestHeaders())
                + size(x.answerHeaders())
                + ByteWriter.sizeOfText(x.problem() == null ? "" : x.problem())
                + 2 * Integer.BYTES
                + x.request().length
                + x.answer().length;
    }

    private static int size(List<String[]> headers) {
        int out = Short.BYTES;
        for (String[] h : headers) {
            out += ByteWriter.sizeOfText(h[0]) + ByteWriter.sizeOfText(h[1] == null ? "" : h[1]);
        }
        return out;
    }

    static void write(Exchange x, ByteWriter out) {
        out.int8(x.outcome().ordinal() | (x.code() == null ? 0 : x.code().number()) << CODE_SHIFT);
        out.int32(x.status());
        // What was kept before has no way; that there is one is said by the sign of a time.
        out.int64(x.way().isKnown() ? ~x.waitMicros() : x.waitMicros());
        out.int64(x.readMicros());
        if (x.way().isKnown()) {
            out.int32(saturated(x.way().queueMicros()));
            out.int32(saturated(x.way().nameMicros()));
            out.int32(saturated(x.way().connectMicros()));
            out.int32(saturated(x.way().tlsMicros()));
            out.int32(x.way().attempts());
        }
        headers(x.requestHeaders(), out);
        headers(x.answerHeaders(), out);
        out.text(x.problem() == null ? "" : x.problem());
        out.sized(x.request());
        out.sized(x.answer());
    }

    static Exchange read(DataInputStream in) throws IOException {
        int first = in.readByte() & 0xFF;
        Outcome outcome = OUTCOMES[first & (1 << CODE_SHIFT) - 1];
        int status = in.readInt();
        long wait = in.readLong();
        long read = in.readLong();
        Way way =
                wait < 0 ? new Way(in.readInt(), in.readInt(), in.readInt(), in.readInt(), in.readInt()) : Way.UNKNOWN;
        List<String[]> sent = headers(in);
        List<String[]> answered = headers(in);
        byte[] problem = bytes(in);
        byte[] request = bytes(in);
        Exchange out = new Exchange(
                        outcome,
                        null,
                        sent,
                        request,
                        status,
                        answered,
                        bytes(in),
                        words(problem),
                        wait < 0 ? ~wait : wait,
                        read)
                .gone(way);
        return FailureCode.numbered(first >>> CODE_SHIFT).map(out::because).orElse(out);
    }

    public static Exchange read(byte[] bytes) {
        return read(ByteBuffer.wrap(bytes), true);
    }

    /** @param withHeaders false for what was written before headers were kept */
    static Exchange read(ByteBuffer in, boolean withHeaders) {
        byte[] all = new byte[in.remaining()];
        in.get(all);
        try (DataInputStream data = new DataInputStream(new ByteArrayInputStream(all))) {
            return withHeaders ? read(data) : bare(data);
        } catch (IOException e) {
            throw new UncheckedIOException("a kept exchange is damaged", e);
        }
    }

    private static Exchange bare(DataInputStream in) throws IOException {
        Outcome outcome = OUTCOMES[in.readByte()];
        int status = in.readInt();
        long wait = in.readLong();
        long read = in.readLong();
        byte[] problem = bytes(in);
        byte[] request = bytes(in);
        return new Exchange(
                outcome, null, List.of(), request, status, List.of(), in.readAllBytes(), words(problem), wait, read);
    }

    private static String words(byte[] problem) {
        return problem.length == 0 ? null : new String(problem, StandardCharsets.UTF_8);
    }

    private static void headers(List<String[]> headers, ByteWriter out) {
        out.int16(headers.size());
        for (String[] h : headers) {
            out.text(h[0]);
            out.text(h[1] == null ? "" : h[1]);
        }
    }

    private static List<String[]> headers(DataInputStream in) throws IOException {
        int count = in.readShort();
        List<String[]> out = new ArrayList<>(count);
        for (int i = 0; i < count; i++) {
            out.add(new String[] {
                new String(bytes(in), StandardCharsets.UTF_8), new String(bytes(in), StandardCharsets.UTF_8)
            });
        }
        return out;
    }

    private static byte[] bytes(DataInputStream in) throws IOException {
        return in.readNBytes(in.readInt());
    }
}
