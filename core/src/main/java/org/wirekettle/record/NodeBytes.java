package org.wirekettle.record;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
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

    private NodeBytes() {}

    public static byte[] write(Node tree) {
        Writer out = new Writer();
        out.node(tree);
        return Arrays.copyOf(out.bytes, out.length);
    }

    /** Of several trees. */
    public static byte[] writeAll(List<Node> trees) {
        Writer out = new Writer();
        out.number(trees.size());
        trees.forEach(out::node);
        return Arrays.copyOf(out.bytes, out.length);
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
        private byte[] bytes = new byte[512];
        private int length;
        private final Map<String, Integer> names = new HashMap<>();

        private void need(int more) {
            if (length + more > bytes.length) {
                bytes = Arrays.copyOf(bytes, Math.max(length + more, bytes.length * 2));
            }
        }

        void number(int n) {
            need(5);
            int left = n;
            while (left > 0x7F) {
                bytes[length++] = (byte) (left | 0x80);
                left >>>= 7;
            }
            bytes[length++] = (byte) left;
        }

        void text(String s) {
            byte[] utf8 = s.getBytes(StandardCharsets.UTF_8);
            number(utf8.length);
            need(utf8.length);
            System.arraycopy(utf8, 0, bytes, length, utf8.length);
            length += utf8.length;
        }

        void name(String s) {
            Integer known = names.putIfAbsent(s, names.size());
            number(known == null ? names.size() - 1 : known);
            if (known == null) {
                text(s);
            }
        }

        void node(Node n) {
            boolean isLeaf = n.isLeaf();
            int kind = (n.isNil() ? NIL : 0)
                    | (isLeaf ? LEAF : 0)
                    | (n.attributes().isEmpty() ? 0 : ATTRIBUTES)
                    | (n.isMixed() ? MIXED : 0);
            number(kind);
            name(n.name());
            name(n.namespace());
            if ((kind & ATTRIBUTES) != 0) {
                number(n.attributes().size());
                for (Node a : n.attributes()) {
                    name(a.name());
                    name(a.namespace());
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
                n.children().forEach(this::node);
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
