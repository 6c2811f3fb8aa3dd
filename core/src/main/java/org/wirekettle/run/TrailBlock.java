package org.wirekettle.run;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.ByteWriter;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;
import org.wirekettle.xml.XmlText;

/**
 * The trails of one chunk as bytes: the messages of neighbouring records are much alike, so together they compress well
 * (LZ4).
 */
public final class TrailBlock {
    /** Tells this format from earlier ones: a positive length had no HTTP headers, a negative one numbers of steps. */
    private static final int BY_PATH = Integer.MIN_VALUE;
    /** The same, with the rows that a record wrote. */
    private static final int WITH_ROWS = Integer.MIN_VALUE + 1;

    private static final int EXPECTED_BYTES = 640;

    private TrailBlock() {}

    /**
     * A trail read back. Earlier versions wrote numbers of steps: then a path is such a number.
     *
     * @param failedPath null for a record that is done
     * @param written rows for targets; earlier versions kept none
     */
    public record Kept(
            long number,
            long startMillis,
            Fate fate,
            String failedPath,
            String code,
            String reason,
            Node record,
            List<Trail.Event> events,
            List<Written> written) {
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

    /** A row that a record wrote. @param path of the write step */
    public record Written(String path, Node row) {}

    private static boolean holds(Node n, String text) {
        return n.isLeaf() ? n.string().contains(text) : n.children().stream().anyMatch(c -> holds(c, text));
    }

    /** @param packer of the pass, whose memory is used again */
    static byte[] write(List<Ended> records, Packer packer) {
        ByteWriter out = packer.begin();
        out.int32(records.size());
        for (Ended e : records) {
            Trail t = e.trail();
            out.int64(t.number());
            out.int64(t.startMillis());
            out.int8(t.fate().ordinal());
            out.text(t.failedPath());
            out.text(t.code());
            out.text(t.reason());
            e.way().forEach(out::raw);
            List<OutputRows.Row> rows = t.isThrough() ? e.rows() : List.of();
            out.int32(rows.size());
            for (OutputRows.Row r : rows) {
                out.text(r.path());
                out.sized(r.bytes());
            }
        }
        return packer.pack(WITH_ROWS);
    }

    /**
     * What is long of a trail, and does not change with its fate: the record and the events.
     *
     * @param shown what may be kept of an exchange, as {@link ExchangeBytes} writes it
     * @return parts that follow each other
     */
    static List<byte[]> way(Trail t, Function<Exchange, byte[]> shown) {
        List<byte[]> out = new ArrayList<>(3);
        ByteWriter part = new ByteWriter(EXPECTED_BYTES);
        NodeBytes.sized(t.source(), part);
        part.int32(t.events().size());
        for (Trail.Event e : t.events()) {
            part.text(e.path());
            part.int64(e.atMillis());
            part.int64(e.micros());
            part.text(e.text());
            Exchange x = e.exchange();
            part.int8(x == null ? 0 : 1);
            if (x != null) {
                // Journal and trail share these bytes; they are not copied for either.
                out.add(part.toBytes());
                out.add(shown.apply(x));
                part = new ByteWriter(EXPECTED_BYTES);
            }
        }
        if (part.length() > 0) {
            out.add(part.toBytes());
        }
        return out;
    }

    public static List<Kept> read(byte[] block) {
        int format = ByteBuffer.wrap(block).getInt();
        boolean isByPath = format == BY_PATH || format == WITH_ROWS;
        byte[] plain = isByPath ? Packed.unpack(block) : Packed.unpackOld(block);
        List<Kept> out = new ArrayList<>();
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(plain))) {
            for (int n = in.readInt(); n > 0; n--) {
                out.add(isByPath ? readOne(in, format == WITH_ROWS) : OldTrails.readOne(in, format < 0));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept trail is damaged", e);
        }
        return out;
    }

    private static Kept readOne(DataInputStream in, boolean withRows) throws IOException {
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
        List<Written> written = new ArrayList<>();
        for (int n = withRows ? in.readInt() : 0; n > 0; n--) {
            written.add(new Written(text(in), NodeBytes.read(bytes(in))));
        }
        return new Kept(number, start, fate, failedPath, code, reason, record, events, written);
    }

    static String text(DataInputStream in) throws IOException {
        int length = in.readInt();
        return length < 0 ? null : new String(in.readNBytes(length), StandardCharsets.UTF_8);
    }

    static byte[] bytes(DataInputStream in) throws IOException {
        return in.readNBytes(in.readInt());
    }
}
