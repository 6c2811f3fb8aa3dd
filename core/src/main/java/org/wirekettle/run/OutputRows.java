package org.wirekettle.run;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.flow.Effects;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/** Rows for one target in their order, each with the record it belongs to; as bytes, to be delivered later. */
public final class OutputRows {
    /** A row. @param number of its record. @param path of the write step */
    public record Row(long number, String path, Node row) {}

    private final List<Row> rows;

    public OutputRows(List<Row> rows) {
        this.rows = rows;
    }

    static Row row(long number, Effects.Row r) {
        return new Row(number, r.path(), r.record());
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
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(rows.size() * 128);
        try (DataOutputStream out = new DataOutputStream(bytes)) {
            out.writeInt(rows.size());
            for (Row r : rows) {
                byte[] tree = NodeBytes.write(r.row);
                out.writeLong(r.number);
                out.writeUTF(r.path);
                out.writeInt(tree.length);
                out.write(tree);
            }
        } catch (IOException e) {
            throw new UncheckedIOException("memory does not fail", e);
        }
        return bytes.toByteArray();
    }

    public static OutputRows read(byte[] bytes) {
        List<Row> out = new ArrayList<>();
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(bytes))) {
            for (int n = in.readInt(); n > 0; n--) {
                out.add(new Row(in.readLong(), in.readUTF(), NodeBytes.read(in.readNBytes(in.readInt()))));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept output is damaged", e);
        }
        return new OutputRows(out);
    }
}
