package org.wirekettle.xml;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;

/**
 * Makes readable text of the bytes of a description document, with a note for every repair. Line numbers stay those of
 * the original: what is cut away leaves its line ends behind.
 */
public final class XmlText {
    private static final Pattern DECLARATION =
            Pattern.compile("<\\?xml[^>]*?encoding\\s*=\\s*[\"']([A-Za-z0-9._-]+)[\"']");
    private static final Pattern DOCTYPE =
            Pattern.compile("<!DOCTYPE(?:[^\\[>\"']|\"[^\"]*\"|'[^']*'|\\[.*?\\]\\s*(?=>))*>", Pattern.DOTALL);
    private static final Pattern ENTITY = Pattern.compile("&([A-Za-z][A-Za-z0-9]*);");
    private static final Pattern UNBOUND =
            Pattern.compile("(?:Undeclared|Unbound) namespace prefix [\"']([^\"']+)[\"']");
    private static final Pattern ROOT =
            Pattern.compile("<(?:([A-Za-z_][\\w.-]*):)?(definitions|schema|description)(?=[\\s>])");
    private static final Map<String, String> HTML_ENTITIES = Map.of(
            "nbsp", "&#160;", "copy", "&#169;", "reg", "&#174;", "ndash", "&#8211;", "mdash", "&#8212;", "rsquo",
            "&#8217;", "lsquo", "&#8216;", "ldquo", "&#8220;", "rdquo", "&#8221;", "hellip", "&#8230;");
    private static final String[] NAMING = {
        "type", "element", "base", "ref", "message", "binding", "itemType", "memberTypes", "substitutionGroup"
    };
    private static final String UNDECLARED = "urn:wire-kettle:undeclared:";
    private static final Map<String, String> USUAL_PREFIXES = Map.ofEntries(
            Map.entry("xs", "http://www.w3.org/2001/XMLSchema"),
            Map.entry("xsd", "http://www.w3.org/2001/XMLSchema"),
            Map.entry("s", "http://www.w3.org/2001/XMLSchema"),
            Map.entry("xsi", "http://www.w3.org/2001/XMLSchema-instance"),
            Map.entry("wsdl", "http://schemas.xmlsoap.org/wsdl/"),
            Map.entry("soap", "http://schemas.xmlsoap.org/wsdl/soap/"),
            Map.entry("wsdlsoap", "http://schemas.xmlsoap.org/wsdl/soap/"),
            Map.entry("soap12", "http://schemas.xmlsoap.org/wsdl/soap12/"),
            Map.entry("http", "http://schemas.xmlsoap.org/wsdl/http/"),
            Map.entry("mime", "http://schemas.xmlsoap.org/wsdl/mime/"),
            Map.entry("soapenc", "http://schemas.xmlsoap.org/soap/encoding/"),
            Map.entry("wsp", "http://schemas.xmlsoap.org/ws/2004/09/policy"),
            Map.entry("wsa", "http://www.w3.org/2005/08/addressing"),
            Map.entry("wsam", "http://www.w3.org/2007/05/addressing/metadata"),
            Map.entry("wsaw", "http://www.w3.org/2006/05/addressing/wsdl"),
            Map.entry("wsu", "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd"));
    private static final int MAX_REPAIRS = 12;

    private final String document;
    private final List<Problem> notes;
    private String text;

    private XmlText(String document, List<Problem> notes) {
        this.document = document;
        this.notes = notes;
    }

    /** A parsed document and the text its places point into. */
    public record Parsed(String text, XmlElement root) {}

    /**
     * Reads a WSDL or XSD document, repairing what is repairable.
     *
     * @throws Refused when no XML can be made of it; the place is that of the first unrepairable fault
     */
    public static Parsed read(String document, byte[] bytes, List<Problem> notes) {
        if (bytes.length > SafeXml.MAX_DOCUMENT_BYTES) {
            throw new Refused(
                    "xml.size",
                    Place.of(document),
                    "The document has " + bytes.length + " bytes; the limit is " + SafeXml.MAX_DOCUMENT_BYTES + ".");
        }
        XmlText reading = new XmlText(document, notes);
        reading.text = reading.decode(bytes);
        reading.unescape();
        reading.cutDoctype();
        reading.replaceEntities();
        reading.cutBeforeRoot();
        return reading.parse();
    }

    private void note(String code, int line, String what, String assumed) {
        notes.add(Problem.warning(code, new Place(document, line, 1), what, "XML 1.0 §2.1", assumed));
    }

    /** A page that shows a description, or a mail, has it escaped. */
    private void unescape() {
        if (text.contains("&lt;") && !ROOT.matcher(text).find()) {
            String plain = text.replace("&lt;", "<")
                    .replace("&gt;", ">")
                    .replace("&quot;", "\"")
                    .replace("&#39;", "'")
                    .replace("&apos;", "'")
                    .replace("&amp;", "&");
            if (ROOT.matcher(plain).find()) {
                text = plain;
                note(
                        "xml.escaped",
                        1,
                        "The markup is escaped, as on a page that shows it.",
                        "It was taken as if it were not.");
            }
        }
    }

    /**
     * The characters of an XML document, by its byte-order mark, its declaration, or what the bytes can be; nothing
     * else is changed.
     */
    public static String decoded(byte[] bytes) {
        return new XmlText("", new java.util.ArrayList<>()).decode(bytes);
    }

    private String decode(byte[] b) {
        int skip = 0;
        Charset marked = null;
        if (startsWith(b, 0xEF, 0xBB, 0xBF)) {
            marked = StandardCharsets.UTF_8;
            skip = 3;
        } else if (startsWith(b, 0xFE, 0xFF)) {
            marked = StandardCharsets.UTF_16BE;
            skip = 2;
        } else if (startsWith(b, 0xFF, 0xFE)) {
            marked = StandardCharsets.UTF_16LE;
            skip = 2;
        } else if (b.length > 3 && b[0] == 0 && b[1] == '<') {
            marked = StandardCharsets.UTF_16BE;
        } else if (b.length > 3 && b[0] == '<' && b[1] == 0) {
            marked = StandardCharsets.UTF_16LE;
        }
        String head = new String(b, 0, Math.min(b.length, 400), StandardCharsets.ISO_8859_1);
        Matcher m = DECLARATION.matcher(head);
        Charset declared = marked != null ? marked : m.find() ? charset(m.group(1)) : StandardCharsets.UTF_8;
        if (declared == null || marked == null && declared.name().startsWith("UTF-16")) {
            note(
                    "xml.encoding",
                    1,
                    "The declared encoding " + m.group(1) + " is not the one the bytes are in.",
                    "UTF-8 was taken.");
            declared = StandardCharsets.UTF_8;
        }
        try {
            return strict(b, skip, declared);
        } catch (CharacterCodingException e) {
            Charset other =
                    declared.equals(StandardCharsets.UTF_8) ? Charset.forName("windows-1252") : StandardCharsets.UTF_8;
            note("xml.encoding", 1, "Some bytes are no " + declared.name() + " text.", other.name() + " was taken.");
            return new String(b, skip, b.length - skip, other);
        }
    }

    private static boolean startsWith(byte[] b, int... marks) {
        for (int i = 0; i < marks.length; i++) {
            if (i >= b.length || (b[i] & 0xFF) != marks[i]) {
                return false;
            }
        }
        return true;
    }

    private static Charset charset(String name) {
        try {
            return Charset.forName(name);
        } catch (IllegalArgumentException e) {
            return null;
        }
    }

    private static String strict(byte[] b, int skip, Charset charset) throws CharacterCodingException {
        return charset.newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT)
                .decode(ByteBuffer.wrap(b, skip, b.length - skip))
                .toString();
    }

    private void cutDoctype() {
        int at = text.indexOf("<!DOCTYPE");
        int root = text.indexOf("definitions");
        if (at < 0 || root >= 0 && at > root) {
            return;
        }
        Matcher m = DOCTYPE.matcher(text);
        if (m.find(at)) {
            note(
                    "xml.doctype",
                    lineOf(m.start()),
                    "There is a DOCTYPE.",
                    "It was not followed: no entity is read from it.");
            cut(m.start(), m.end());
        }
    }

    private void replaceEntities() {
        Matcher m = ENTITY.matcher(text);
        StringBuilder out = null;
        while (m.find()) {
            String name = m.group(1);
            if (name.equals("lt")
                    || name.equals("gt")
                    || name.equals("amp")
                    || name.equals("quot")
                    || name.equals("apos")) {
                continue;
            }
            if (out == null) {
                out = new StringBuilder(text.length());
                note(
                        "xml.entity",
                        lineOf(m.start()),
                        "The entity &" + name + "; is not declared.",
                        "Such entities were taken as text.");
            }
            m.appendReplacement(out, Matcher.quoteReplacement(HTML_ENTITIES.getOrDefault(name, "&amp;" + name + ";")));
        }
        if (out != null) {
            m.appendTail(out);
            text = out.toString();
        }
    }

    /** Whatever stands before the XML declaration or the root goes; so does what follows the root's end. */
    private void cutBeforeRoot() {
        int declaration = text.indexOf("<?xml");
        int first = 0;
        while (first < text.length() && text.charAt(first) <= ' ') {
            first++;
        }
        boolean startsAsXml = first < text.length()
                && text.charAt(first) == '<'
                && !text.regionMatches(true, first, "<!doctype html", 0, 14)
                && !text.regionMatches(true, first, "<html", 0, 5);
        if (startsAsXml && (declaration < 0 || declaration <= first)) {
            if (first > 0 && declaration == first) {
                note("xml.before", 1, "White space stands before the XML declaration.", "It was skipped.");
                cut(0, declaration);
                dropDeclaration();
            }
            return;
        }
        Matcher m = ROOT.matcher(text);
        if (m.find()) {
            int at = m.start();
            String tag = (m.group(1) == null ? "" : m.group(1) + ":") + m.group(2);
            note(
                    "xml.before",
                    1,
                    skipped(text.substring(0, at)) + " before <" + tag + ">, where nothing of the kind may be.",
                    "It was skipped.");
            cut(0, at);
            cutAfterRoot();
        }
    }

    /** What stands where nothing may, in words. */
    private static String skipped(String part) {
        List<String> found = new ArrayList<>();
        String rest = part.replaceAll("(?s)<!--.*?-->", "");
        if (rest.length() < part.length()) {
            found.add("a comment");
        }
        if (rest.matches("(?is).*<script.*")) {
            found.add("a script element");
        }
        String markup = rest.replaceAll("(?is)<script.*?</script\\s*>", "").replaceAll("(?s)<[?!].*?>", "");
        if (markup.contains("<")) {
            found.add("markup of another document");
        }
        if (!markup.replaceAll("(?s)<.*?>", "").isBlank() || found.isEmpty()) {
            found.add("text");
        }
        String all = String.join(found.size() == 2 ? " and " : ", ", found);
        return Character.toUpperCase(all.charAt(0)) + all.substring(1) + (found.size() == 1 ? " stands" : " stand");
    }

    /** An XML declaration is only allowed at the very start; after a cut it no longer is there. */
    private void dropDeclaration() {
        int at = text.indexOf("<?xml");
        int end = at < 0 ? -1 : text.indexOf("?>", at);
        if (end > 0) {
            cut(at, end + 2);
        }
    }

    private Parsed parse() {
        for (int repairs = 0; ; repairs++) {
            try {
                XmlElement root = XmlElement.parse(document, text);
                Optional<XmlElement> bare = repairs < MAX_REPAIRS ? usesUndeclared(root) : Optional.empty();
                if (bare.isEmpty()
                        || !declare(undeclared(bare.get()).get(), bare.get().place())) {
                    return new Parsed(text, root);
                }
            } catch (Refused e) {
                Matcher m = UNBOUND.matcher(String.valueOf(e.getMessage()));
                boolean repaired =
                        repairs < MAX_REPAIRS && (m.find() ? declare(m.group(1), e.place()) : cutAfterRoot());
                if (!repaired) {
                    throw e;
                }
            }
        }
    }

    /** An attribute's value may use a prefix, too, and XML itself does not mind when it is bound to nothing. */
    private static Optional<XmlElement> usesUndeclared(XmlElement root) {
        List<XmlElement> found = new ArrayList<>(1);
        root.walk(e -> {
            if (found.isEmpty() && undeclared(e).isPresent()) {
                found.add(e);
            }
        });
        return found.stream().findFirst();
    }

    /** The first prefix in a name-valued attribute that nothing binds and that can be guessed. */
    private static Optional<String> undeclared(XmlElement e) {
        for (String attribute : NAMING) {
            String value = e.attribute(attribute);
            int colon = value == null ? -1 : value.indexOf(':');
            // An address has a colon as well, and is no name.
            boolean isName = colon > 0 && !value.startsWith("//", colon + 1);
            String prefix = isName ? value.substring(0, colon).strip() : "";
            if ((USUAL_PREFIXES.containsKey(prefix) || prefix.equals("tns")) && e.namespaceOf(prefix) == null) {
                return Optional.of(prefix);
            }
        }
        return Optional.empty();
    }

    private boolean cutAfterRoot() {
        Matcher m = ROOT.matcher(text);
        if (!m.find()) {
            return false;
        }
        String tag = (m.group(1) == null ? "" : m.group(1) + ":") + m.group(2);
        int end = text.lastIndexOf("</" + tag);
        int close = end < 0 ? -1 : text.indexOf('>', end);
        if (close < 0 || text.substring(close + 1).isBlank()) {
            return false;
        }
        note(
                "xml.after",
                lineOf(close),
                skipped(text.substring(close + 1)) + " after </" + tag + ">, where nothing of the kind may be.",
                "It was skipped.");
        text = text.substring(0, close + 1);
        return true;
    }

    private boolean declare(String prefix, Place place) {
        String namespace = USUAL_PREFIXES.get(prefix);
        if (namespace == null && prefix.equals("tns")) {
            Matcher m = Pattern.compile("targetNamespace\\s*=\\s*[\"']([^\"']*)[\"']")
                    .matcher(text);
            namespace = m.find() ? m.group(1) : null;
        }
        Matcher root = ROOT.matcher(text);
        if (!root.find()) {
            return false;
        }
        if (namespace == null && prefix.equals(root.group(1))) {
            namespace = root.group(2).equals("schema")
                    ? "http://www.w3.org/2001/XMLSchema"
                    : "http://schemas.xmlsoap.org/wsdl/";
        }
        boolean isKnown = namespace != null;
        if (!isKnown) {
            namespace = UNDECLARED + prefix;
        }
        Problem note = Problem.warning(
                "xml.prefix",
                place,
                "The prefix " + prefix + " is not declared.",
                "Namespaces in XML §5",
                isKnown
                        ? "It was taken for " + namespace + "."
                        : "It was given a namespace of its own; what it marks is not understood.");
        notes.add(isKnown ? note : note.affectingMessages());
        text = text.substring(0, root.end()) + " xmlns:" + prefix + "=\"" + namespace + "\""
                + text.substring(root.end());
        return true;
    }

    private int lineOf(int offset) {
        int line = 1;
        for (int i = 0; i < offset; i++) {
            if (text.charAt(i) == '\n') {
                line++;
            }
        }
        return line;
    }

    private void cut(int from, int to) {
        StringBuilder kept = new StringBuilder();
        for (int i = from; i < to; i++) {
            if (text.charAt(i) == '\n') {
                kept.append('\n');
            }
        }
        text = text.substring(0, from) + kept + text.substring(to);
    }
}
