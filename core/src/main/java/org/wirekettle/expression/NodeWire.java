package org.wirekettle.expression;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.record.Node;

/**
 * Trees as bytes, for another process. Nodes are known by their number: an element, its attributes, its children, in
 * this order.
 */
final class NodeWire {
    private NodeWire() {}

    static void text(String s, DataOutputStream out) throws IOException {
        if (s == null) {
            out.writeInt(-1);
            return;
        }
        byte[] bytes = s.getBytes(StandardCharsets.UTF_8);
        out.writeInt(bytes.length);
        out.write(bytes);
    }

    static String text(DataInputStream in) throws IOException {
        int length = in.readInt();
        return length < 0 ? null : new String(in.readNBytes(length), StandardCharsets.UTF_8);
    }

    static void write(Node n, DataOutputStream out) throws IOException {
        text(n.name(), out);
        text(n.namespace(), out);
        out.writeBoolean(n.isNil());
        out.writeInt(n.attributes().size());
        for (Node a : n.attributes()) {
            text(a.name(), out);
            text(a.namespace(), out);
            text(a.string(), out);
        }
        if (n.isLeaf()) {
            out.writeInt(-1);
            text(n.string(), out);
            return;
        }
        List<Object> content = n.content();
        out.writeInt(content.size());
        for (Object o : content) {
            out.writeBoolean(o instanceof Node);
            if (o instanceof Node child) {
                write(child, out);
            } else {
                text((String) o, out);
            }
        }
    }

    static Node read(DataInputStream in) throws IOException {
        String name = text(in);
        Node n = new Node(text(in), name);
        n.nil(in.readBoolean());
        for (int count = in.readInt(); count > 0; count--) {
            String attribute = text(in);
            Node a = new Node(text(in), attribute);
            a.text(text(in));
            n.addAttribute(a);
        }
        int pieces = in.readInt();
        if (pieces < 0) {
            n.text(text(in));
            return n;
        }
        List<Object> content = new ArrayList<>(pieces);
        boolean isMixed = false;
        for (int i = 0; i < pieces; i++) {
            if (in.readBoolean()) {
                Node child = read(in);
                n.add(child);
                content.add(child);
            } else {
                content.add(text(in));
                isMixed = true;
            }
        }
        if (isMixed) {
            n.mixed(content);
        }
        return n;
    }

    /** All nodes of a tree, each at its number. */
    static List<Node> numbered(Node root) {
        List<Node> out = new ArrayList<>();
        number(root, out);
        return out;
    }

    private static void number(Node n, List<Node> out) {
        out.add(n);
        out.addAll(n.attributes());
        n.children().forEach(c -> number(c, out));
    }
}
