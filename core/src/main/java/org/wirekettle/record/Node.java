package org.wirekettle.record;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/**
 * An element, attribute or field with its value. Built by one thread, then only read, by any. An element has text, or
 * children, or both in turn (mixed content); white space between children alone is layout and not kept.
 */
public final class Node {
    private final String name;
    private final String namespace;
    private Node parent;
    private String text;
    private boolean nil;
    private List<Node> children = List.of();
    private List<Node> attributes = List.of();
    /** Texts and children in their order, where there is text beside children; otherwise null. */
    private List<Object> mixed;

    public Node(String namespace, String name) {
        this.namespace = namespace == null ? "" : namespace;
        this.name = name;
    }

    /** A field without a namespace. */
    public static Node leaf(String name, String text) {
        Node n = new Node("", name);
        n.text = text;
        return n;
    }

    public String name() {
        return name;
    }

    public String namespace() {
        return namespace;
    }

    public Node parent() {
        return parent;
    }

    public boolean isNil() {
        return nil;
    }

    public void nil(boolean value) {
        nil = value;
    }

    public void text(String value) {
        text = value;
    }

    public Node add(Node child) {
        if (children.isEmpty()) {
            children = new ArrayList<>(8);
        }
        children.add(child);
        child.parent = this;
        return this;
    }

    public Node addAttribute(Node attribute) {
        if (attributes.isEmpty()) {
            attributes = new ArrayList<>(4);
        }
        attributes.add(attribute);
        attribute.parent = this;
        return this;
    }

    public void removeAttribute(Node attribute) {
        attributes.remove(attribute);
    }

    /** Takes the last child off again; for writers that find a started element to be empty. */
    public void removeLast() {
        children.remove(children.size() - 1);
    }

    public List<Node> children() {
        return children;
    }

    /** Gives it text beside its children. @param content texts (String) and all its children (Node), in order */
    public void mixed(List<Object> content) {
        mixed = content;
    }

    /** Whether it has text beside its children. */
    public boolean isMixed() {
        return mixed != null;
    }

    /** Its texts (String) and children (Node) in order; of a leaf nothing. */
    public List<Object> content() {
        return mixed != null ? mixed : java.util.Collections.unmodifiableList(children);
    }

    public List<Node> attributes() {
        return attributes;
    }

    /** The first child element of that local name, whatever its namespace; null when there is none. */
    public Node child(String localName) {
        for (int i = 0; i < children.size(); i++) {
            if (children.get(i).name.equals(localName)) {
                return children.get(i);
            }
        }
        return null;
    }

    /**
     * The attribute of that name in no namespace; null when there is none. A name without a prefix means that (XPath
     * 3.1 §3.3.2.1).
     */
    public Node attribute(String localName) {
        for (int i = 0; i < attributes.size(); i++) {
            if (attributes.get(i).name.equals(localName)
                    && attributes.get(i).namespace.isEmpty()) {
                return attributes.get(i);
            }
        }
        return null;
    }

    /** Its own text, or its descendants' joined; never null (XPath's string value). */
    public String string() {
        if (children.isEmpty()) {
            return text == null ? "" : text;
        }
        StringBuilder out = new StringBuilder();
        collect(out);
        return out.toString();
    }

    private void collect(StringBuilder out) {
        if (children.isEmpty()) {
            out.append(text == null ? "" : text);
        } else if (mixed != null) {
            for (Object o : mixed) {
                if (o instanceof Node c) {
                    c.collect(out);
                } else {
                    out.append((String) o);
                }
            }
        } else {
            children.forEach(c -> c.collect(out));
        }
    }

    public boolean isLeaf() {
        return children.isEmpty();
    }

    /** The same tree again, with no parent. */
    public Node copy() {
        return copy(name);
    }

    /** The same tree under another local name, with no parent. */
    public Node copy(String otherName) {
        Node out = new Node(namespace, otherName);
        out.text = text;
        out.nil = nil;
        attributes.forEach(a -> out.addAttribute(a.copy()));
        Map<Node, Node> copies = mixed == null ? null : new IdentityHashMap<>();
        for (Node c : children) {
            Node copied = c.copy();
            out.add(copied);
            if (copies != null) {
                copies.put(c, copied);
            }
        }
        if (mixed != null) {
            out.mixed = mixed.stream()
                    .map(o -> o instanceof Node n ? copies.get(n) : o)
                    .toList();
        }
        return out;
    }

    /** A flat record from names and values, in order. A null value leaves the field out. */
    public static Node record(Map<String, String> fields) {
        Node out = new Node("", "record");
        fields.forEach((k, v) -> {
            if (v != null) {
                out.add(leaf(k, v));
            }
        });
        return out;
    }
}
