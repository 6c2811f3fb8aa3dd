package org.wirekettle.run;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.flow.Effects;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.ByteWriter;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * A record that came to where records are gathered.
 *
 * @param number of the record
 * @param records of the source that it stands for
 * @param step the id of the step that gathers
 * @param key what makes it belong to a group
 * @param entries what it brings, as bytes
 */
public record Member(long number, int records, String step, String key, byte[] entries) {
    /** @return null for a record that was not gathered */
    static Member of(Trail t) {
        Effects.Gathered g = t.effects().gathered();
        return g == null ? null : new Member(t.number(), t.records(), g.step(), g.key(), write(g.entries()));
    }

    static byte[] write(List<Node> entries) {
        ByteWriter out = new ByteWriter(256);
        out.int32(entries.size());
        entries.forEach(e -> out.sized(NodeBytes.write(e)));
        return out.toBytes();
    }

    /** The entries that were kept so. */
    public static List<Node> read(byte[] entries) {
        List<Node> out = new ArrayList<>();
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(entries))) {
            for (int n = in.readInt(); n > 0; n--) {
                out.add(NodeBytes.read(TrailBlock.bytes(in)));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("kept entries are damaged", e);
        }
        return out;
    }
}
