package org.wirekettle.flow;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.flow.FillDesign.Failing;
import org.wirekettle.problem.Refused;
import org.wirekettle.problem.Show;
import org.wirekettle.record.JsonTree;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.xml.SafeXml;

/**
 * Lays open the documents that strings of many answers hold, so that their fields can be looked at, and knows of those
 * strings that do not open. Used by one thread.
 */
final class OpenedStrings {
    /** Below a string the place where the document in it begins. */
    static final String DOCUMENT = "⟨document⟩";
    /** Likewise where its JSON begins; below it an item of an array is {@link #ITEM}. */
    static final String JSON = "⟨json⟩";

    static final String ITEM = "*";

    private static final int MAX_LEVELS = 3;
    private static final int MAX_CHARS = 4_000_000;
    private static final int MAX_PATHS = 1_000;
    private static final int MAX_NUMBERS = 50;
    private static final int MAX_REASONS = 20;

    private final Map<String, Strings> byPath = new LinkedHashMap<>();

    /** The strings at one place. */
    private static final class Strings {
        private final Map<String, List<Long>> broken = new LinkedHashMap<>();
        private final Map<String, Long> counts = new LinkedHashMap<>();
        private boolean isXml;
        private boolean hasOpened;

        void broken(String reason, long number) {
            if (counts.size() < MAX_REASONS || counts.containsKey(reason)) {
                List<Long> numbers = broken.computeIfAbsent(reason, r -> new ArrayList<>());
                counts.merge(reason, 1L, Long::sum);
                if (numbers.size() < MAX_NUMBERS) {
                    numbers.add(number);
                }
            }
        }
    }

    /** An answer with its documents laid open. @param number of the record it was for */
    Node open(Node answer, long number) {
        return open(answer, "", number, 0);
    }

    private Node open(Node n, String path, long number, int level) {
        Node out = new Node(n.namespace(), n.name());
        n.attributes().forEach(a -> {
            Node copy = new Node(a.namespace(), a.name());
            copy.text(a.string());
            out.addAttribute(copy);
        });
        if (!n.isLeaf()) {
            n.children()
                    .forEach(c -> out.add(open(c, path.isEmpty() ? c.name() : path + "/" + c.name(), number, level)));
            return out;
        }
        String text = n.string();
        Node inside = level < MAX_LEVELS && text.length() <= MAX_CHARS ? inside(text.strip(), path, number) : null;
        if (inside == null) {
            out.text(text);
        } else {
            String mark = inside.name().equals(JSON) ? JSON : DOCUMENT + "/" + inside.name();
            Node opened = open(inside, path + "/" + mark, number, level + 1);
            out.add(inside.name().equals(JSON) ? opened : new Node("", DOCUMENT).add(opened));
        }
        return out;
    }

    /** @return null when it is no document */
    private Node inside(String text, String path, long number) {
        boolean looksXml = text.startsWith("<");
        boolean looksJson = text.startsWith("{") || text.startsWith("[");
        Strings known = byPath.get(path);
        if (!looksXml && !looksJson && known == null || text.isEmpty()) {
            return null;
        }
        if (known == null) {
            known = new Strings();
            if (byPath.size() < MAX_PATHS) {
                byPath.put(path, known);
            }
        }
        try {
            if (!looksXml && !looksJson) {
                known.broken("it is " + Show.value(text.substring(0, Math.min(40, text.length()))), number);
                return null;
            }
            Node out = looksXml ? NodeXml.read(text) : json(text);
            known.hasOpened = true;
            return out;
        } catch (XMLStreamException e) {
            known.isXml = true;
            Refused why = SafeXml.refusal("text", e);
            known.broken(
                    why.getMessage() + " (line " + why.place().line() + ", column "
                            + why.place().column() + ")",
                    number);
        } catch (JsonProcessingException e) {
            known.broken(
                    "This is no JSON: " + e.getOriginalMessage() + " (line "
                            + e.getLocation().getLineNr() + ")",
                    number);
        } catch (IOException e) {
            known.broken("This is no JSON: " + e.getMessage(), number);
        }
        return null;
    }

    private static Node json(String text) throws IOException {
        try (JsonParser in = JsonTree.parser(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)))) {
            in.nextToken();
            Node root = value(in, JSON);
            if (in.nextToken() != null) {
                throw new IOException("there is something after its end");
            }
            return root;
        }
    }

    /** As it is looked up: members by their own names. */
    private static Node value(JsonParser in, String name) throws IOException {
        Node out = new Node("", name);
        JsonToken token = in.currentToken();
        if (token == JsonToken.START_OBJECT) {
            while (in.nextToken() != JsonToken.END_OBJECT) {
                String member = in.currentName();
                in.nextToken();
                out.add(value(in, member));
            }
        } else if (token == JsonToken.START_ARRAY) {
            while (in.nextToken() != JsonToken.END_ARRAY) {
                out.add(value(in, ITEM));
            }
        } else if (token != JsonToken.VALUE_NULL) {
            out.text(in.getText());
        }
        return out;
    }

    /** What does not open although it looks like a document, or although others at its place do. */
    List<Failing> broken() {
        List<Failing> out = new ArrayList<>();
        byPath.forEach((path, s) -> s.counts.forEach((reason, n) -> {
            if (s.hasOpened || s.isXml) {
                out.add(new Failing(path, reason, n, List.copyOf(s.broken.get(reason)), List.of()));
            }
        }));
        return out;
    }
}
