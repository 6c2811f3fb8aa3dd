package org.wirekettle.shape;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import org.wirekettle.xml.Escape;

/**
 * Namespace names that are no URIs, such as the text of a template that was never filled in. By Namespaces in XML §2.2
 * they are just names, and services compare them letter by letter; a schema compiler refuses them (XSD part 2 §3.2.17).
 * It gets others in their place. Immutable.
 */
final class Namespaces {
    private static final String PREFIX = "urn:wire-kettle:namespace:";
    private final Map<String, String> standIns = new LinkedHashMap<>();

    /** @param names all that schemas are for or import */
    Namespaces(Iterable<String> names) {
        ScalarType anyUri = ScalarType.builtIn("anyURI");
        for (String name : names) {
            if (!name.isEmpty() && anyUri.problem(name).isPresent()) {
                standIns.put(
                        name,
                        PREFIX + URLEncoder.encode(name, StandardCharsets.UTF_8).replace("%", "."));
            }
        }
    }

    /** The name the schema compiler knows. */
    String inSchema(String name) {
        return name == null ? null : standIns.getOrDefault(name, name);
    }

    /** The name messages have. */
    String own(String inSchema) {
        if (inSchema == null || !inSchema.startsWith(PREFIX)) {
            return inSchema;
        }
        return standIns.entrySet().stream()
                .filter(e -> e.getValue().equals(inSchema))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(inSchema);
    }

    /** XML for the schema compiler or its validator: attribute values that are such a name are replaced. */
    String inText(String xml) {
        String out = xml;
        for (Map.Entry<String, String> e : standIns.entrySet()) {
            String escaped = Escape.xml(e.getKey());
            for (String written : new String[] {e.getKey(), escaped, escaped.replace("&gt;", ">")}) {
                out = out.replace("\"" + written + "\"", "\"" + e.getValue() + "\"")
                        .replace("'" + written + "'", "'" + e.getValue() + "'");
            }
        }
        return out;
    }

    /** What the compiler or validator says, with the names as they are. */
    String outOf(String text) {
        String out = text;
        for (Map.Entry<String, String> e : standIns.entrySet()) {
            out = out.replace(e.getValue(), e.getKey());
        }
        return out;
    }
}
