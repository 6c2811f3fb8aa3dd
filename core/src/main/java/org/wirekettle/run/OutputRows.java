package org.wirekettle.run;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.Likeness;
import org.wirekettle.record.ByteWriter;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/** Rows for one target in their order, each with the record it belongs to; as bytes, to be delivered later. */
public final class OutputRows {
    /** Tells this format from the earlier one, which began with the number of rows. */
    private static final int PACKED = -2;

    /**
     * A row.
     *
     * @param number of its record
     * @param path of the write step
     * @param bytes of the row, see {@link NodeBytes}
     * @param likeness by which it is known that it was written; null when that is not kept
     */
    public record Row(
            long number,
            String path,
            Node row,
            byte[] bytes,
            @Nullable Likeness likeness) {}

    private final List<Row> rows;

    public OutputRows(List<Row> rows) {
        this.rows = rows;
    }

    /** Those of a record, for whatever targets, in their order. Any thread. */
    static List<Row> of(long number, List<Effects.Row> written) {
        List<Row> out = new ArrayList<>(written.size());
        for (Effects.Row r : written) {
            out.add(new Row(number, r.path(), r.record(), NodeBytes.write(r.record()), r.likeness()));
        }
        return out;
    }

    public List<Row> rows() {
        return rows;
    }

    public List<Node> nodes() {
        return rows.stream().map(Row::row).toList();
    }

    public int size() {
        return rows.size();
    }

    public byte[] bytes() {
        ByteWriter out = new ByteWriter(rows.size() * 128);
        out.int32(rows.size());
        for (Row r : rows) {
            byte[] path = r.path.getBytes(StandardCharsets.UTF_8);
            out.int64(r.number);
            out.int16(path.length);
            out.raw(path);
            out.sized(r.bytes);
        }
        return Packed.pack(PACKED, out);
    }

    public static OutputRows read(byte[] block) {
        byte[] plain = ByteBuffer.wrap(block).getInt() == PACKED ? Packed.unpack(block) : block;
        List<Row> out = new ArrayList<>();
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(plain))) {
            for (int n = in.readInt(); n > 0; n--) {
                long number = in.readLong();
                String path = in.readUTF();
                byte[] bytes = in.readNBytes(in.readInt());
                out.add(new Row(number, path, NodeBytes.read(bytes), bytes, null));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept output is damaged", e);
        }
        return new OutputRows(out);
    }
}
