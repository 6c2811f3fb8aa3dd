package org.wirekettle.run;

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
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;
import org.wirekettle.xml.XmlText;

/**
 * The trails of one chunk as bytes: the messages of neighbouring records are much alike, so together they compress well
 * (LZ4).
 */
public final class TrailBlock {
    private static final LZ4Factory LZ4 = lz4();
    /** Tells this format from earlier ones: a positive length had no HTTP headers, a negative one numbers of steps. */
    private static final int BY_PATH = Integer.MIN_VALUE;

    private TrailBlock() {}

    /** The native one where it loads: {@code fastestInstance} only tries it under the system's class loader. */
    private static LZ4Factory lz4() {
        try {
            return LZ4Factory.nativeInstance();
        } catch (LinkageError | RuntimeException e) {
            return LZ4Factory.fastestJavaInstance();
        }
    }

    /**
     * A trail read back. Earlier versions wrote numbers of steps: then a path is such a number.
     *
     * @param failedPath null for a record that is done
     */
    public record Kept(
            long number,
            long startMillis,
            Fate fate,
            String failedPath,
            String code,
            String reason,
            Node record,
            List<Trail.Event> events) {
        /** Whether a text occurs in the record or its messages. */
        public boolean contains(String text) {
            return holds(record, text)
                    || events.stream()
                            .anyMatch(e -> e.exchange() != null
                                    && (new String(e.exchange().request(), StandardCharsets.UTF_8).contains(text)
                                            || XmlText.decoded(e.exchange().xml())
                                                    .contains(text)));
        }
    }

    private static boolean holds(Node n, String text) {
        return n.isLeaf() ? n.string().contains(text) : n.children().stream().anyMatch(c -> holds(c, text));
    }

    /** @param ways as {@link #way} made them, one for each trail */
    public static byte[] write(List<Trail> trails, List<byte[]> ways) {
        ByteArrayOutputStream raw =
                new ByteArrayOutputStream(ways.stream().mapToInt(w -> w.length).sum() + trails.size() * 64);
        try (DataOutputStream out = new DataOutputStream(raw)) {
            out.writeInt(trails.size());
            for (int i = 0; i < trails.size(); i++) {
                Trail t = trails.get(i);
                out.writeLong(t.number());
                out.writeLong(t.startMillis());
                out.writeByte(t.fate().ordinal());
                text(t.failedPath(), out);
                text(t.code(), out);
                text(t.reason(), out);
                out.write(ways.get(i));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("memory does not fail", e);
        }
        byte[] plain = raw.toByteArray();
        byte[] packed = LZ4.fastCompressor().compress(plain);
        return ByteBuffer.allocate(8 + packed.length)
                .putInt(BY_PATH)
                .putInt(plain.length)
                .put(packed)
                .array();
    }

    /** What is long of a trail, and does not change with its fate: the record and the events. */
    static byte[] way(Trail t) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(2048);
        try (DataOutputStream out = new DataOutputStream(bytes)) {
            bytes(NodeBytes.write(t.source()), out);
            out.writeInt(t.events().size());
            for (Trail.Event e : t.events()) {
                text(e.path(), out);
                out.writeLong(e.atMillis());
                out.writeLong(e.micros());
                text(e.text(), out);
                Exchange x = e.exchange();
                out.writeBoolean(x != null);
                if (x != null) {
                    ExchangeBytes.write(x.shown(), out);
                }
            }
        } catch (IOException e) {
            throw new UncheckedIOException("memory does not fail", e);
        }
        return bytes.toByteArray();
    }

    public static List<Kept> read(byte[] block) {
        ByteBuffer head = ByteBuffer.wrap(block);
        int length = head.getInt();
        boolean isByPath = length == BY_PATH;
        byte[] plain = isByPath
                ? LZ4.fastDecompressor().decompress(block, 8, head.getInt())
                : LZ4.fastDecompressor().decompress(block, 4, Math.abs(length));
        List<Kept> out = new ArrayList<>();
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(plain))) {
            for (int n = in.readInt(); n > 0; n--) {
                out.add(isByPath ? readOne(in) : OldTrails.readOne(in, length < 0));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept trail is damaged", e);
        }
        return out;
    }

    private static Kept readOne(DataInputStream in) throws IOException {
        long number = in.readLong();
        long start = in.readLong();
        Fate fate = Fate.values()[in.readByte()];
        String failedPath = text(in);
        String code = text(in);
        String reason = text(in);
        Node record = NodeBytes.read(bytes(in));
        List<Trail.Event> events = new ArrayList<>();
        for (int n = in.readInt(); n > 0; n--) {
            String path = text(in);
            long at = in.readLong();
            long micros = in.readLong();
            String text = text(in);
            events.add(new Trail.Event(path, at, micros, text, in.readBoolean() ? ExchangeBytes.read(in) : null, null));
        }
        return new Kept(number, start, fate, failedPath, code, reason, record, events);
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

    static String text(DataInputStream in) throws IOException {
        int length = in.readInt();
        return length < 0 ? null : new String(in.readNBytes(length), StandardCharsets.UTF_8);
    }

    static byte[] bytes(DataInputStream in) throws IOException {
        return in.readNBytes(in.readInt());
    }
}
