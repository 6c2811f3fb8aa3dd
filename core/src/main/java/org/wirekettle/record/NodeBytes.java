package org.wirekettle.record;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Trees as bytes, compact: to be kept in trails, journals and outputs. A name is written once for each tree, then its
 * number; numbers are as long as they need to be, seven bits a byte.
 */
public final class NodeBytes {
    private static final int NIL = 1;
    private static final int LEAF = 2;
    private static final int ATTRIBUTES = 4;
    private static final int MIXED = 8;

    private static final int EXPECTED_BYTES = 512;

    private NodeBytes() {}

    public static byte[] write(Node tree) {
        Writer out = new Writer(new ByteWriter(EXPECTED_BYTES));
        out.node(tree);
        return out.out.toBytes();
    }

    /** After how many bytes they are. */
    public static void sized(Node tree, ByteWriter into) {
        int at = into.length();
        into.int32(0);
        new Writer(into).node(tree);
        into.size(at);
    }

    /** Of several trees. */
    public static byte[] writeAll(List<Node> trees) {
        Writer out = new Writer(new ByteWriter(EXPECTED_BYTES));
        out.number(trees.size());
        trees.forEach(out::node);
        return out.out.toBytes();
    }

    public static Node read(byte[] bytes) {
        return new Reader(bytes).node();
    }

    public static List<Node> readAll(byte[] bytes) {
        Reader in = new Reader(bytes);
        int n = in.number();
        List<Node> out = new ArrayList<>(n);
        for (int i = 0; i < n; i++) {
            out.add(in.node());
        }
        return out;
    }

    private static final class Writer {
        private static final int LINEAR_NAMES = 24;
        private final ByteWriter out;
        private final String[] names = new String[LINEAR_NAMES];
        private final int[] hashes = new int[LINEAR_NAMES];
        private int nameCount;
        private String lastNamespace;
        private int lastNamespaceNumber;
        /** Only of trees with many names. */
        private Map<String, Integer> byName;

        Writer(ByteWriter out) {
            this.out = out;
        }

        void number(int n) {
            out.packed(n);
        }

        void text(String s) {
            out.packedText(s);
        }

        void name(String s) {
            int known = known(s);
            number(known < 0 ? nameCount : known);
            if (known < 0) {
                add(s);
                text(s);
            }
        }

        /** Mostly that of the node before. */
        void namespace(String s) {
            if (s == lastNamespace) {
                number(lastNamespaceNumber);
                return;
            }
            int known = known(s);
            lastNamespace = s;
            lastNamespaceNumber = known < 0 ? nameCount : known;
            name(s);
        }

        private int known(String s) {
            if (byName != null) {
                return byName.getOrDefault(s, -1);
            }
            int hash = s.hashCode();
            for (int i = 0; i < nameCount; i++) {
                if (hashes[i] == hash && names[i].equals(s)) {
                    return i;
                }
            }
            return -1;
        }

        private void add(String s) {
            if (byName == null && nameCount == LINEAR_NAMES) {
                byName = new HashMap<>();
                for (int i = 0; i < nameCount; i++) {
                    byName.put(names[i], i);
                }
            }
            if (byName == null) {
                names[nameCount] = s;
                hashes[nameCount] = s.hashCode();
            } else {
                byName.put(s, nameCount);
            }
            nameCount++;
        }

        void node(Node n) {
            boolean isLeaf = n.isLeaf();
            int kind = (n.isNil() ? NIL : 0)
                    | (isLeaf ? LEAF : 0)
                    | (n.attributes().isEmpty() ? 0 : ATTRIBUTES)
                    | (n.isMixed() ? MIXED : 0);
            number(kind);
            name(n.name());
            namespace(n.namespace());
            if ((kind & ATTRIBUTES) != 0) {
                number(n.attributes().size());
                for (Node a : n.attributes()) {
                    name(a.name());
                    namespace(a.namespace());
                    text(a.string());
                }
            }
            if (isLeaf) {
                text(n.string());
            } else if (n.isMixed()) {
                number(n.content().size());
                for (Object o : n.content()) {
                    number(o instanceof Node ? 1 : 0);
                    if (o instanceof Node child) {
                        node(child);
                    } else {
                        text((String) o);
                    }
                }
            } else {
                number(n.children().size());
                List<Node> children = n.children();
                for (int i = 0; i < children.size(); i++) {
                    node(children.get(i));
                }
            }
        }
    }

    private static final class Reader {
        private final byte[] bytes;
        private int at;
        private final List<String> names = new ArrayList<>();

        Reader(byte[] bytes) {
            this.bytes = bytes;
        }

        int number() {
            int out = 0;
            for (int shift = 0; ; shift += 7) {
                byte b = bytes[at++];
                out |= (b & 0x7F) << shift;
                if (b >= 0) {
                    return out;
                }
            }
        }

        String text() {
            int size = number();
            String out = new String(bytes, at, size, StandardCharsets.UTF_8);
            at += size;
            return out;
        }

        String name() {
            int n = number();
            if (n == names.size()) {
                names.add(text());
            }
            return names.get(n);
        }

        Node node() {
            int kind = number();
            String name = name();
            Node n = new Node(name(), name);
            n.nil((kind & NIL) != 0);
            if ((kind & ATTRIBUTES) != 0) {
                for (int left = number(); left > 0; left--) {
                    String attribute = name();
                    Node a = new Node(name(), attribute);
                    a.text(text());
                    n.addAttribute(a);
                }
            }
            if ((kind & LEAF) != 0) {
                n.text(text());
                return n;
            }
            List<Object> content = (kind & MIXED) != 0 ? new ArrayList<>() : null;
            for (int left = number(); left > 0; left--) {
                if (content != null && number() == 0) {
                    content.add(text());
                    continue;
                }
                Node child = node();
                n.add(child);
                if (content != null) {
                    content.add(child);
                }
            }
            if (content != null) {
                n.mixed(content);
            }
            return n;
        }
    }
}
