package org.wirekettle.http;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.Operation.DeclaredFault;
import org.wirekettle.problem.Show;
import org.wirekettle.record.JsonTree;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.soap.Envelopes.Answer;
import org.wirekettle.soap.Fault;
import org.wirekettle.xml.FieldNames;
import org.wirekettle.xml.SafeXml;

/**
 * Reads the answers of one operation into trees: JSON, XML, text, or what comes in Base64. The answer's own attributes
 * are its status and the headers that the description tells of. Immutable and shareable.
 */
public final class HttpAnswers {
    private static final Pattern CHARSET = Pattern.compile("charset\\s*=\\s*\"?([\\w.:-]+)", Pattern.CASE_INSENSITIVE);
    /** Where services say why, the usual first (RFC 9457 §3.1). */
    private static final List<String> REASONS =
            List.of("detail", "title", "message", "error_description", "errorMessage", "error", "description");

    private static final int MAX_FIELDS_TOLD = 5;
    private static final String LOCATION = "Location";

    private final Operation operation;

    public HttpAnswers(Operation operation) {
        this.operation = operation;
    }

    /** What came. @param headers names and values */
    public record Came(int status, @Nullable String contentType, List<String[]> headers, byte[] bytes) {}

    /** It is not what it says it is, or what was wanted. */
    public static final class Unreadable extends Exception {
        private static final long serialVersionUID = 1;

        private final Form wanted;

        Unreadable(Form wanted, String message) {
            super(message, null, false, false);
            this.wanted = wanted;
        }

        /** How it should have been written. */
        public Form wanted() {
            return wanted;
        }
    }

    /** @return with a fault when its status says that the request failed */
    public Answer read(Came came) throws Unreadable {
        HttpTemplate.Answer expected = operation.http().answer(came.status());
        Node value = value(came, expected);
        attribute(value, HttpTemplate.STATUS, Integer.toString(came.status()));
        for (String[] h : came.headers()) {
            boolean isTold =
                    expected != null && expected.headers().stream().anyMatch(told -> told.equalsIgnoreCase(h[0]));
            if (isTold || h[0].equalsIgnoreCase(LOCATION)) {
                attribute(value, FieldNames.name(label(expected, h[0])), h[1]);
            }
        }
        boolean isGood = came.status() >= 200 && came.status() < 300;
        return new Answer(List.of(), List.of(value), isGood ? null : fault(came.status(), value));
    }

    private static String label(HttpTemplate.@Nullable Answer expected, String header) {
        return expected == null
                ? LOCATION
                : expected.headers().stream()
                        .filter(h -> h.equalsIgnoreCase(header))
                        .findFirst()
                        .orElse(LOCATION);
    }

    /** What the document says of itself stays. */
    private static void attribute(Node of, String name, String value) {
        if (of.attribute(name) == null) {
            Node a = new Node("", name);
            a.text(value);
            of.addAttribute(a);
        }
    }

    private static Node value(Came came, HttpTemplate.@Nullable Answer expected) throws Unreadable {
        if (came.bytes().length == 0) {
            return new Node("", HttpTemplate.NO_ANSWER);
        }
        Form wanted = expected == null || expected.mediaType() == null ? null : Form.of(expected.mediaType());
        Form said = came.contentType() == null ? null : Form.of(came.contentType());
        // Some say text of what is JSON; a page is one whatever was wanted.
        boolean isLoose = said == null || said == Form.TEXT || said == Form.BYTES;
        boolean isPage = came.contentType() != null
                && came.contentType().toLowerCase(Locale.ROOT).contains("html");
        Form form = isLoose && !isPage && wanted != null ? wanted : said == null ? Form.TEXT : said;
        if (isPage && (wanted == Form.JSON || wanted == Form.XML)) {
            throw new Unreadable(wanted, "the answer is a page for people, and no " + wanted);
        }
        return switch (form) {
            case JSON -> json(came);
            case XML -> xml(came.bytes());
            case TEXT, FORM, PARTS -> Node.leaf(HttpTemplate.TEXT_ANSWER, text(came));
            case BYTES ->
                Node.leaf(HttpTemplate.TEXT_ANSWER, Base64.getEncoder().encodeToString(came.bytes()));
        };
    }

    private static Node json(Came came) throws Unreadable {
        try {
            return JsonTree.read(text(came));
        } catch (JsonTree.Unreadable e) {
            throw new Unreadable(Form.JSON, "the answer is not JSON: " + e.getMessage());
        }
    }

    private static Node xml(byte[] bytes) throws Unreadable {
        try {
            return NodeXml.read(bytes);
        } catch (XMLStreamException e) {
            throw new Unreadable(
                    Form.XML,
                    "the answer is not XML: " + SafeXml.refusal("answer", e).getMessage());
        }
    }

    /** The text of an answer, in the encoding it says it is in, otherwise in UTF-8 (RFC 8259 §8.1). */
    public static String text(Came came) {
        byte[] b = came.bytes();
        if (b.length > 2 && (b[0] & 0xFF) == 0xEF && (b[1] & 0xFF) == 0xBB && (b[2] & 0xFF) == 0xBF) {
            return new String(b, 3, b.length - 3, StandardCharsets.UTF_8);
        }
        if (came.contentType() != null) {
            Matcher m = CHARSET.matcher(came.contentType());
            if (m.find()) {
                try {
                    return new String(b, Charset.forName(m.group(1)));
                } catch (IllegalArgumentException e) {
                    return new String(b, StandardCharsets.UTF_8);
                }
            }
        }
        return new String(b, StandardCharsets.UTF_8);
    }

    private Fault fault(int status, Node value) {
        HttpTemplate.Answer expected = operation.http().answer(status);
        String declared = expected == null ? null : "HTTP " + expected.status();
        DeclaredFault known = operation.faults().stream()
                .filter(f -> f.name().equals(declared))
                .findFirst()
                .orElse(null);
        String own = "HTTP " + status;
        boolean isNamed = known != null && !known.name().endsWith("default");
        return new Fault(Integer.toString(status), reason(value), null, value, isNamed ? known.name() : own, false);
    }

    /** Why, in the service's words, and what else it says beside that. */
    private static String reason(Node value) {
        if (value.name().equals(HttpTemplate.TEXT_ANSWER)) {
            String text = value.string().strip();
            return text.length() > 300 ? text.substring(0, 300) + "…" : text;
        }
        Node said = REASONS.stream()
                .map(value::child)
                .filter(n -> n != null && n.isLeaf() && !n.string().isBlank())
                .findFirst()
                .orElse(null);
        List<String> others = new ArrayList<>();
        for (Node n : value.children()) {
            if (n != said && n.isLeaf() && !n.string().isBlank() && others.size() < MAX_FIELDS_TOLD) {
                others.add(n.name() + " " + Show.value(n.string().strip()));
            }
        }
        String fields = String.join(", ", others);
        String why = said == null ? "" : said.string().strip();
        return why.isEmpty() || fields.isEmpty() ? why + fields : why + " (" + fields + ")";
    }
}
