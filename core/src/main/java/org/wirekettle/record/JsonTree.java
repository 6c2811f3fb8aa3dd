package org.wirekettle.record;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import java.io.IOException;
import java.io.InputStream;
import org.wirekettle.xml.FieldNames;

/**
 * JSON as a tree of the same kind as XML: a member is an element of its name, an array its element once for each item,
 * an array of its own (inside another, or the whole text) elements named {@code item}, null a nil element.
 */
public final class JsonTree {
    private static final int MAX_DEPTH = 200;
    private static final int MAX_NODES = 2_000_000;
    private static final String ITEM = "item";
    private static final JsonFactory JSON = JsonFactory.builder()
            .streamReadConstraints(
                    StreamReadConstraints.builder().maxNestingDepth(MAX_DEPTH).build())
            .build();

    /** The name of elements of an array that has none of its own. */
    public static final String ITEMS = ITEM;

    private final JsonParser in;
    private final int maxNodes;
    private int nodes;

    private JsonTree(JsonParser in, int maxNodes) {
        this.in = in;
        this.maxNodes = maxNodes;
    }

    /** The text is no JSON, or too much of it. */
    public static final class Unreadable extends Exception {
        private static final long serialVersionUID = 1;

        Unreadable(String message) {
            super(message, null, false, false);
        }
    }

    /** @return the value as an element named {@code json}. @throws Unreadable in words, with line and column */
    public static Node read(String text) throws Unreadable {
        return read(text, "json");
    }

    /** Likewise as an element of that name. */
    public static Node read(String text, String name) throws Unreadable {
        try (JsonParser in = JSON.createParser(text)) {
            Node root = new Node("", name);
            in.nextToken();
            new JsonTree(in, MAX_NODES).value(root, ITEM);
            if (in.nextToken() != null) {
                throw new Unreadable("there is something after its end, at " + place(in));
            }
            return root;
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw new Unreadable(words(e));
        } catch (IOException e) {
            throw new Unreadable(e.getMessage());
        }
    }

    /** A parser with our limits, to be read piece by piece. */
    public static JsonParser parser(InputStream in) throws IOException {
        return JSON.createParser(in);
    }

    /**
     * Reads the value a parser stands on; afterwards it stands on its end, or within it when that was refused.
     *
     * @throws Unreadable when it has more values than it may
     */
    public static Node value(JsonParser at, String name, int maxNodes) throws IOException, Unreadable {
        Node out = new Node("", name);
        new JsonTree(at, maxNodes).value(out, ITEM);
        return out;
    }

    /** A parser's complaint in words, with line and column. */
    public static String words(com.fasterxml.jackson.core.JsonProcessingException e) {
        String text = e.getOriginalMessage().replaceAll("\\s*\\n.*", "");
        return e.getLocation() == null
                ? text
                : text + ", line " + e.getLocation().getLineNr() + ", column "
                        + e.getLocation().getColumnNr();
    }

    private static String place(JsonParser in) {
        return "line " + in.currentTokenLocation().getLineNr() + ", column "
                + in.currentTokenLocation().getColumnNr();
    }

    /** Reads the value at hand into a node. @param items the name of an array's elements */
    private void value(Node into, String items) throws IOException, Unreadable {
        JsonToken t = in.currentToken();
        if (t == null) {
            throw new Unreadable("it ends too early");
        }
        switch (t) {
            case START_OBJECT -> {
                while (in.nextToken() != JsonToken.END_OBJECT) {
                    String name = in.currentName();
                    in.nextToken();
                    member(into, name);
                }
            }
            case START_ARRAY -> {
                while (in.nextToken() != JsonToken.END_ARRAY) {
                    value(child(into, items), ITEM);
                }
            }
            case VALUE_NULL -> into.nil(true);
            default -> into.text(in.getText());
        }
    }

    private void member(Node into, String label) throws IOException, Unreadable {
        String name = FieldNames.name(label);
        if (in.currentToken() != JsonToken.START_ARRAY) {
            value(child(into, name), ITEM);
            return;
        }
        while (in.nextToken() != JsonToken.END_ARRAY) {
            value(child(into, name), ITEM);
        }
    }

    private Node child(Node into, String name) throws Unreadable {
        if (++nodes > maxNodes) {
            throw new Unreadable("it has more than " + maxNodes + " values");
        }
        Node out = new Node("", name);
        into.add(out);
        return out;
    }
}
