package org.wirekettle.soap;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeReader;
import org.wirekettle.xml.SafeXml;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XopInclude;

/** Writes and reads SOAP envelopes (SOAP 1.1 §4, SOAP 1.2 part 1 §5). */
public final class Envelopes {
    private static final String ENCODING_STYLE = " soap:encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\"";

    static final String BODY_TAG = "<soap:Body";
    /** How envelopes without a header begin that are written here. */
    static final List<byte[]> HEADLESS = Arrays.stream(SoapVersion.values())
            .map(v -> (start(v) + BODY_TAG).getBytes(StandardCharsets.UTF_8))
            .toList();

    private static final String TAIL = "</soap:Body></soap:Envelope>";
    private static final byte[] TAIL_BYTES = TAIL.getBytes(StandardCharsets.UTF_8);
    private static final Map<SoapVersion, byte[]> PLAIN_HEADS = new EnumMap<>(SoapVersion.class);

    static {
        for (SoapVersion v : SoapVersion.values()) {
            PLAIN_HEADS.put(v, (start(v) + BODY_TAG + '>').getBytes(StandardCharsets.UTF_8));
        }
    }

    private Envelopes() {}

    private static String start(SoapVersion version) {
        return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<soap:Envelope xmlns:soap=\"" + version.namespace() + "\">";
    }

    /** The envelope in UTF-8. {@code headers} and {@code body} are XML that declares its own prefixes. */
    public static byte[] write(SoapVersion version, Use use, String headers, String body) {
        // SOAP 1.2 part 1 §5.1.1: there encodingStyle stands on the element in the Body, not on the Body.
        boolean onBody = use == Use.ENCODED && (version == SoapVersion.SOAP11 || body.isEmpty());
        boolean onChild = use == Use.ENCODED && !onBody;
        if (headers.isEmpty() && use != Use.ENCODED) {
            return between(PLAIN_HEADS.get(version), body);
        }
        StringBuilder out = new StringBuilder(headers.length() + body.length() + 256).append(start(version));
        if (!headers.isEmpty()) {
            out.append("<soap:Header>").append(headers).append("</soap:Header>");
        }
        out.append(BODY_TAG)
                .append(onBody ? ENCODING_STYLE : "")
                .append('>')
                .append(onChild ? XmlElement.withAttributes(body, ENCODING_STYLE) : body);
        return out.append(TAIL).toString().getBytes(StandardCharsets.UTF_8);
    }

    /** What stands before the body of a message without headers and encoding. */
    public static byte[] head(SoapVersion version) {
        return PLAIN_HEADS.get(version).clone();
    }

    /** What stands after it. */
    public static byte[] tail() {
        return TAIL_BYTES.clone();
    }

    /** The commonest message: copied once. */
    private static byte[] between(byte[] head, String body) {
        byte[] inside = body.getBytes(StandardCharsets.UTF_8);
        byte[] out = Arrays.copyOf(head, head.length + inside.length + TAIL_BYTES.length);
        System.arraycopy(inside, 0, out, head.length, inside.length);
        System.arraycopy(TAIL_BYTES, 0, out, head.length + inside.length, TAIL_BYTES.length);
        return out;
    }

    /**
     * An answer read.
     *
     * @param fault null when it is none
     */
    public record Answer(List<Node> headers, List<Node> body, Fault fault) {
        /** The element that {@code $reply} stands for: the body's first, a fault's detail, or an empty one. */
        public Node payload() {
            return fault != null && fault.detail() != null
                    ? fault.detail()
                    : body.isEmpty() ? new Node("", "empty") : body.get(0);
        }

        /** The same, its fault as the operation declares it. */
        public Answer knowing(List<Operation.DeclaredFault> declared) {
            return fault == null ? this : new Answer(headers, body, fault.among(declared));
        }
    }

    /** Not an envelope, or not XML; says what it is instead. */
    public static final class Unreadable extends Exception {
        private static final long serialVersionUID = 1;

        private final boolean isXml;

        Unreadable(String message, boolean isXml) {
            super(message, null, false, false);
            this.isXml = isXml;
        }

        /** Whether it is XML, of another kind. */
        public boolean isXml() {
            return isXml;
        }
    }

    /** @param hasFiles whether files of ours may stand for content: their names are the values then */
    public static Answer read(byte[] bytes, boolean hasFiles) throws Unreadable {
        Answer out = read(bytes);
        if (hasFiles) {
            out.body.forEach(Envelopes::namingFiles);
        }
        return out;
    }

    private static void namingFiles(Node n) {
        if (n.children().size() == 1) {
            Node only = n.children().get(0);
            Node href = only.name().equals("Include") && only.namespace().equals(XopInclude.NAMESPACE)
                    ? only.attribute("href")
                    : null;
            if (href != null && href.string().startsWith(XopInclude.FILE)) {
                n.removeLast();
                n.text(href.string().substring(XopInclude.FILE.length()));
                return;
            }
        }
        n.children().forEach(Envelopes::namingFiles);
    }

    public static Answer read(byte[] bytes) throws Unreadable {
        if (bytes.length == 0) {
            throw new Unreadable("the answer is empty", false);
        }
        XMLStreamReader2 in = null;
        try {
            in = SafeXml.reader(bytes, 0, bytes.length);
            return read(in);
        } catch (XMLStreamException e) {
            throw new Unreadable(
                    "the answer is not XML: " + SafeXml.refusal("answer", e).getMessage(), false);
        } finally {
            close(in);
        }
    }

    static void close(XMLStreamReader2 in) {
        try {
            if (in != null) {
                in.close();
            }
        } catch (XMLStreamException e) {
            throw new IllegalStateException("closing a reader in memory does not fail", e);
        }
    }

    private static Answer read(XMLStreamReader2 in) throws XMLStreamException, Unreadable {
        while (in.next() != XMLStreamConstants.START_ELEMENT) {
            // prologue
        }
        String ns = in.getNamespaceURI();
        if (!in.getLocalName().equals("Envelope") || SoapVersion.ofNamespace(ns).isEmpty()) {
            throw new Unreadable("the answer is no SOAP envelope; its root is <" + in.getLocalName() + ">", true);
        }
        Parts parts = parts(in);
        List<Node> body = parts.body();
        Fault fault = !body.isEmpty()
                        && body.get(0).name().equals("Fault")
                        && body.get(0).namespace().equals(ns)
                ? Fault.of(body.get(0))
                : null;
        return new Answer(parts.headers(), body, fault);
    }

    /** What is in an envelope. */
    record Parts(List<Node> headers, List<Node> body, boolean hasBody) {}

    /** Reads the envelope on whose start the reader stands, to the end of the document. */
    static Parts parts(XMLStreamReader2 in) throws XMLStreamException {
        String ns = in.getNamespaceURI();
        List<Node> headers = List.of();
        List<Node> body = new ArrayList<>(1);
        List<Node> into = null;
        boolean hasBody = false;
        boolean encoded = in.getAttributeValue(ns, "encodingStyle") != null;
        for (int depth = 0; in.hasNext(); ) {
            int event = in.next();
            if (event == XMLStreamConstants.START_ELEMENT) {
                if (depth == 0) {
                    boolean isHeader = in.getLocalName().equals("Header");
                    hasBody |= in.getLocalName().equals("Body");
                    if (isHeader) {
                        headers = new ArrayList<>();
                    }
                    into = isHeader ? headers : body;
                    encoded |= in.getAttributeValue(ns, "encodingStyle") != null;
                    depth++;
                } else {
                    encoded |= in.getAttributeValue(ns, "encodingStyle") != null;
                    into.add(NodeReader.element(in));
                }
            } else if (event == XMLStreamConstants.END_ELEMENT) {
                depth--;
            }
        }
        return new Parts(headers, body.size() > 1 || encoded ? MultiReference.resolve(body) : body, hasBody);
    }
}
