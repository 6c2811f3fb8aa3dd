package org.wirekettle.trigger;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XmlText;

/**
 * A contract's own documents, word for word but for two things: the addresses of its ports are ours, and documents name
 * each other by ours (WSDL 1.1 §2.1.1, §3.8). Used once.
 */
final class ReaddressedWsdl {
    private static final String WSDL = "http://schemas.xmlsoap.org/wsdl/";
    private final String text;
    private final List<Edit> edits = new ArrayList<>();

    /** A piece of the text that is another now. */
    private record Edit(int from, int to, String by) {}

    private ReaddressedWsdl(String text) {
        this.text = text;
    }

    /** @return empty when there is no document of that number */
    static Optional<String> of(Contract contract, String address, int part) {
        List<Contract.Document> all = contract.documents();
        if (part < 0 || part >= all.size()) {
            return Optional.empty();
        }
        Map<String, byte[]> files = new LinkedHashMap<>();
        all.forEach(d -> files.put(d.uri(), d.bytes()));
        Documents documents = Documents.of(files);
        Contract.Document own = all.get(part);
        XmlText.Parsed parsed = XmlText.read(own.uri(), own.bytes(), new ArrayList<>());
        ReaddressedWsdl out = new ReaddressedWsdl(parsed.text());
        parsed.root().walk(e -> {
            String attribute = naming(e);
            if (attribute == null || e.attribute(attribute) == null) {
                return;
            }
            if (e.name().equals("address")) {
                out.edit(e, attribute, address);
                return;
            }
            String uri = documents.resolve(own.uri(), e.attribute(attribute));
            for (int i = 0; i < all.size(); i++) {
                if (all.get(i).uri().equals(uri)) {
                    out.edit(e, attribute, address + "?wsdl=" + i);
                }
            }
        });
        return Optional.of(out.edited());
    }

    /** The attribute that names an address, or another document; null for none. */
    private static String naming(XmlElement e) {
        boolean isAddress = e.name().equals("address") && e.namespace().startsWith(WSDL + "soap");
        if (isAddress || e.is(WSDL, "import")) {
            return "location";
        }
        boolean isSchema =
                e.is(XmlSchemas.XSD, "import") || e.is(XmlSchemas.XSD, "include") || e.is(XmlSchemas.XSD, "redefine");
        return isSchema ? "schemaLocation" : null;
    }

    private void edit(XmlElement e, String attribute, String value) {
        Matcher m = Pattern.compile("\\s" + attribute + "\\s*=\\s*(\"[^\"]*\"|'[^']*')")
                .matcher(text)
                .region(e.start(), Math.min(text.length(), e.end()));
        if (m.find()) {
            edits.add(new Edit(m.start(1), m.end(1), '"' + Escape.xml(value) + '"'));
        }
    }

    private String edited() {
        StringBuilder out = new StringBuilder(text);
        edits.stream()
                .sorted(Comparator.comparingInt(Edit::from).reversed())
                .forEach(e -> out.replace(e.from, e.to, e.by));
        String plain = out.toString().strip().replaceFirst("^\\uFEFF?<\\?xml[^>]*\\?>\\s*", "");
        return "<?xml version=\"1.0\" encoding=\"" + StandardCharsets.UTF_8 + "\"?>\n" + plain;
    }
}
