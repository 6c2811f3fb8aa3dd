package org.wirekettle.flow;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import net.jpountz.lz4.LZ4Factory;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.record.NodeXml;
import org.wirekettle.xml.XmlText;

/**
 * The trails of one chunk as bytes: the messages of neighbouring records are much alike, so together they compress well
 * (LZ4).
 */
public final class TrailBlock {
    private static final LZ4Factory LZ4 = lz4();

    private TrailBlock() {}

    /** The native one where it loads: {@code fastestInstance} only tries it under the system's class loader. */
    private static LZ4Factory lz4() {
        try {
            return LZ4Factory.nativeInstance();
        } catch (LinkageError | RuntimeException e) {
            return LZ4Factory.fastestJavaInstance();
        }
    }

    /** A trail read back. */
    public record Kept(
            long number,
            long startMillis,
            Fate fate,
            int failedStep,
            String code,
            String reason,
            String record,
            int results,
            List<Trail.Event> events) {
        /** Whether a text occurs in the record or its messages. */
        public boolean contains(String text) {
            return record.contains(text)
                    || events.stream()
                            .anyMatch(e -> e.exchange() != null
                                    && (new String(e.exchange().request(), StandardCharsets.UTF_8).contains(text)
                                            || XmlText.decoded(e.exchange().xml())
                                                    .contains(text)));
        }
    }

    public static byte[] write(List<Trail> trails) {
        ByteArrayOutputStream raw = new ByteArrayOutputStream(trails.size() * 1024);
        try (DataOutputStream out = new DataOutputStream(raw)) {
            out.writeInt(trails.size());
            for (Trail t : trails) {
                write(t, out);
            }
        } catch (IOException e) {
            throw new UncheckedIOException("memory does not fail", e);
        }
        byte[] plain = raw.toByteArray();
        byte[] packed = LZ4.fastCompressor().compress(plain);
        // A negative length tells this format from the one before, which kept no HTTP headers.
        return ByteBuffer.allocate(4 + packed.length)
                .putInt(-plain.length)
                .put(packed)
                .array();
    }

    private static void write(Trail t, DataOutputStream out) throws IOException {
        out.writeLong(t.number());
        out.writeLong(t.startMillis());
        out.writeByte(t.fate().ordinal());
        out.writeInt(t.failedStep());
        text(t.code(), out);
        text(t.reason(), out);
        text(NodeXml.write(t.source()), out);
        out.writeInt(t.results().size());
        out.writeInt(t.events().size());
        for (Trail.Event e : t.events()) {
            out.writeInt(e.step());
            out.writeLong(e.atMillis());
            out.writeLong(e.micros());
            text(e.text(), out);
            Exchange x = e.exchange();
            out.writeBoolean(x != null);
            if (x != null) {
                ExchangeBytes.write(x.shown(), out);
            }
        }
    }

    public static List<Kept> read(byte[] block) {
        ByteBuffer head = ByteBuffer.wrap(block);
        int length = head.getInt();
        byte[] plain = LZ4.fastDecompressor().decompress(block, 4, Math.abs(length));
        List<Kept> out = new ArrayList<>();
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(plain))) {
            for (int n = in.readInt(); n > 0; n--) {
                out.add(readOne(in, length < 0));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept trail is damaged", e);
        }
        return out;
    }

    private static Kept readOne(DataInputStream in, boolean withHeaders) throws IOException {
        long number = in.readLong();
        long start = in.readLong();
        Fate fate = Fate.values()[in.readByte()];
        int failedStep = in.readInt();
        String code = text(in);
        String reason = text(in);
        String record = text(in);
        int results = in.readInt();
        List<Trail.Event> events = new ArrayList<>();
        for (int n = in.readInt(); n > 0; n--) {
            int step = in.readInt();
            long at = in.readLong();
            long micros = in.readLong();
            String text = text(in);
            Exchange x = withHeaders ? in.readBoolean() ? ExchangeBytes.read(in) : null : bare(in);
            events.add(new Trail.Event(step, at, micros, text, x));
        }
        return new Kept(number, start, fate, failedStep, code, reason, record, results, events);
    }

    private static Exchange bare(DataInputStream in) throws IOException {
        int outcome = in.readByte();
        if (outcome < 0) {
            return null;
        }
        int status = in.readInt();
        long wait = in.readLong();
        long read = in.readLong();
        String problem = text(in);
        byte[] request = bytes(in);
        return new Exchange(
                Outcome.values()[outcome], null, List.of(), request, status, List.of(), bytes(in), problem, wait, read);
    }

    private static void text(String s, DataOutputStream out) throws IOException {
        if (s == null) {
            out.writeInt(-1);
        } else {
            bytes(s.getBytes(StandardCharsets.UTF_8), out);
        }
    }

    private static void bytes(byte[] b, DataOutputStream out) throws IOException {
        out.writeInt(b.length);
        out.write(b);
    }

    private static String text(DataInputStream in) throws IOException {
        int length = in.readInt();
        return length < 0 ? null : new String(in.readNBytes(length), StandardCharsets.UTF_8);
    }

    private static byte[] bytes(DataInputStream in) throws IOException {
        return in.readNBytes(in.readInt());
    }
}
