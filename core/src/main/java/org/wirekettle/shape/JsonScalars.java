package org.wirekettle.shape;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Optional;
import java.util.Vector;
import org.apache.xerces.impl.dv.InvalidDatatypeFacetException;
import org.apache.xerces.impl.dv.SchemaDVFactory;
import org.apache.xerces.impl.dv.XSFacets;
import org.apache.xerces.impl.dv.XSSimpleType;
import org.apache.xerces.xs.XSSimpleTypeDefinition;
import org.wirekettle.shape.JsonForm.Value;

/**
 * The types of JSON's values as simple types with facets (JSON Schema 2020-12 validation §6, §7): so what is typed is
 * checked the same way whatever the message is written in.
 */
final class JsonScalars {
    /** One class, not a choice of two that overlap: that would be tried in every combination. */
    private static final String ANYTHING = "[\\s\\S]*";

    private static final int MAX_SCALE = 400;
    private static final String UUID = "[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}";

    private JsonScalars() {}

    static ScalarType of(JsonSchemaView schema, Value value) {
        XSSimpleType base = SchemaDVFactory.getInstance().getBuiltInType(base(schema, value));
        Facets facets = new Facets(base);
        boolean isPlainText = value == Value.TEXT && base.getName().equals("string");
        if (isPlainText) {
            schema.get("minLength").ifPresent(facets::minLength);
            schema.get("maxLength").ifPresent(facets::maxLength);
        }
        if (value == Value.NUMBER) {
            schema.get("minimum").ifPresent(facets::minInclusive);
            schema.get("maximum").ifPresent(facets::maxInclusive);
            schema.get("exclusiveMinimum").ifPresent(facets::minExclusive);
            schema.get("exclusiveMaximum").ifPresent(facets::maxExclusive);
        }
        if (value != Value.ANY && value != Value.TRUTH) {
            schema.get("enum").ifPresent(facets::enumeration);
        }
        ScalarType out = facets.applied();
        if (!isPlainText) {
            return out;
        }
        String pattern = "uuid".equals(schema.text("format")) ? UUID : schema.text("pattern");
        return pattern == null ? out : facets.with(pattern).orElse(out);
    }

    private static String base(JsonSchemaView schema, Value value) {
        String format = schema.text("format") == null ? "" : schema.text("format");
        boolean isInteger = schema.get("type")
                .map(t -> t.isArray()
                        ? t.toString().contains("\"integer\"")
                        : t.asText().equals("integer"))
                .orElse(false);
        return switch (value) {
            case NUMBER ->
                switch (format) {
                    case "int32" -> "int";
                    case "int64" -> "long";
                    case "float", "double" -> isInteger ? "integer" : "double";
                    default -> isInteger ? "integer" : "decimal";
                };
            case TRUTH -> "boolean";
            case TEXT ->
                switch (format) {
                    case "date" -> "date";
                    case "date-time" -> "dateTime";
                    case "time" -> "time";
                    case "byte", "binary" -> "base64Binary";
                    default -> "base64".equals(schema.text("contentEncoding")) ? "base64Binary" : "string";
                };
            default -> "string";
        };
    }

    /** Collects what restricts a type; what Xerces cannot take is left out, since it restricts no more than that. */
    private static final class Facets {
        private final XSSimpleType base;
        private final XSFacets all = new XSFacets();
        private int present;

        Facets(XSSimpleType base) {
            this.base = base;
        }

        void minLength(JsonNode n) {
            all.minLength = n.asInt();
            present |= n.isInt() ? XSSimpleTypeDefinition.FACET_MINLENGTH : 0;
        }

        void maxLength(JsonNode n) {
            all.maxLength = n.asInt();
            present |= n.isInt() ? XSSimpleTypeDefinition.FACET_MAXLENGTH : 0;
        }

        void minInclusive(JsonNode n) {
            all.minInclusive = number(n);
            present |= isUsable(n) ? XSSimpleTypeDefinition.FACET_MININCLUSIVE : 0;
        }

        void maxInclusive(JsonNode n) {
            all.maxInclusive = number(n);
            present |= isUsable(n) ? XSSimpleTypeDefinition.FACET_MAXINCLUSIVE : 0;
        }

        void minExclusive(JsonNode n) {
            all.minExclusive = number(n);
            present |= isUsable(n) ? XSSimpleTypeDefinition.FACET_MINEXCLUSIVE : 0;
        }

        void maxExclusive(JsonNode n) {
            all.maxExclusive = number(n);
            present |= isUsable(n) ? XSSimpleTypeDefinition.FACET_MAXEXCLUSIVE : 0;
        }

        /** Written out, a limit of a few characters can fill the memory. */
        private static boolean isUsable(JsonNode n) {
            return n.isNumber() && Math.abs((long) n.decimalValue().scale()) < MAX_SCALE;
        }

        private static String number(JsonNode n) {
            return isUsable(n) ? n.decimalValue().stripTrailingZeros().toPlainString() : "0";
        }

        void enumeration(JsonNode values) {
            Vector<String> texts = new Vector<>();
            values.forEach(v -> {
                if (!v.isNull()) {
                    texts.add(v.asText());
                }
            });
            all.enumeration = texts;
            present |= texts.isEmpty() ? 0 : XSSimpleTypeDefinition.FACET_ENUMERATION;
        }

        ScalarType applied() {
            try {
                return restricted(base);
            } catch (InvalidDatatypeFacetException e) {
                return ScalarType.of(base);
            }
        }

        private ScalarType restricted(XSSimpleType of) throws InvalidDatatypeFacetException {
            if (present == 0) {
                return ScalarType.of(of);
            }
            XSSimpleType out = SchemaDVFactory.getInstance().createTypeRestriction(null, null, (short) 0, of, null);
            out.applyFacets(all, (short) present, (short) 0, StatelessValidation.INSTANCE);
            return ScalarType.of(out);
        }

        /** A pattern is that of ECMA-262, found anywhere in the text; XSD's is for the whole of it (part 2 §F). */
        Optional<ScalarType> with(String pattern) {
            String p = pattern;
            p = p.startsWith("^") ? p.substring(1) : ANYTHING + "(" + p;
            boolean isOpen = !pattern.startsWith("^");
            boolean hasEnd = p.endsWith("$") && !p.endsWith("\\$");
            p = hasEnd ? p.substring(0, p.length() - 1) : p;
            p = (isOpen ? p + ")" : p) + (hasEnd ? "" : ANYTHING);
            p = p.replace("(?:", "(").replace("\\/", "/");
            if (UNKNOWN.matcher(p).find()) {
                return Optional.empty();
            }
            all.pattern = p;
            present |= XSSimpleTypeDefinition.FACET_PATTERN;
            try {
                return Optional.of(restricted(base));
            } catch (InvalidDatatypeFacetException e) {
                return Optional.empty();
            }
        }

        /** What XSD's expressions do not know, or know as something else. */
        private static final java.util.regex.Pattern UNKNOWN =
                java.util.regex.Pattern.compile("\\(\\?|(?<!\\\\)(?<!\\[)[\\^$]|\\\\[bB1-9]|[*+?}]\\?");
    }
}
