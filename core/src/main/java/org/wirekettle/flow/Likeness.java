package org.wirekettle.flow;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Arrays;
import java.util.List;
import org.wirekettle.expression.Sha256;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;

/**
 * By what a row is told from the one with the same key that was written before. Compared by their bytes.
 *
 * @param key a digest of the values that it is known by
 * @param content a digest of all that counts
 */
public record Likeness(Bytes key, Bytes content) {
    /** Of a digest: two of 2^64 rows are alike by chance. */
    private static final int BYTES = 16;

    /** Bytes that are equal when they are the same. */
    public static final class Bytes implements Comparable<Bytes> {
        private final byte[] value;

        public Bytes(byte[] value) {
            this.value = value.clone();
        }

        public byte[] value() {
            return value.clone();
        }

        @Override
        public int compareTo(Bytes other) {
            return Arrays.compare(value, other.value);
        }

        @Override
        public boolean equals(Object o) {
            return o instanceof Bytes b && Arrays.equals(value, b.value);
        }

        @Override
        public int hashCode() {
            return Arrays.hashCode(value);
        }
    }

    static Likeness of(Node row, WriteStep.UnlessEqual by) {
        MessageDigest key = Sha256.begun();
        for (String field : by.keys()) {
            // What is not there is another key than what is empty.
            Node value = field(row, field);
            byte[] text = value == null ? new byte[0] : value.string().getBytes(StandardCharsets.UTF_8);
            key.update((value == null ? "-" : Integer.toString(text.length)).getBytes(StandardCharsets.US_ASCII));
            key.update((byte) ' ');
            key.update(text);
        }
        Node counted = row;
        List<String> ignored = by.ignoring();
        if (!ignored.isEmpty() && !row.isLeaf()) {
            counted = row.copy();
            counted.children().removeIf(c -> ignored.contains(c.name()));
            for (Node a : List.copyOf(counted.attributes())) {
                if (ignored.contains("@" + a.name())) {
                    counted.removeAttribute(a);
                }
            }
        }
        return new Likeness(cut(key.digest()), cut(Sha256.begun().digest(NodeBytes.write(counted))));
    }

    private static Node field(Node row, String name) {
        return name.startsWith("@") ? row.attribute(name.substring(1)) : row.child(name);
    }

    private static Bytes cut(byte[] digest) {
        return new Bytes(Arrays.copyOf(digest, BYTES));
    }
}
