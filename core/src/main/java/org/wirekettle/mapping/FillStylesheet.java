package org.wirekettle.mapping;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.expression.Functions;
import org.wirekettle.mapping.Mapping.ListRule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.Escape;

/**
 * Writes a fill as a stylesheet (XSLT 3.0) that makes the same elements of the same record. What a stylesheet cannot
 * know is left out and noted: secrets, files, lists of sources, elements taken as they are. Used once.
 */
final class FillStylesheet {
    private static final Pattern XSI_TYPE = Pattern.compile(" xsi:type=\"([^\"]*)\"");

    private final StringBuilder out = new StringBuilder();
    private final StylesheetValues values = new StylesheetValues();
    private int depth = 2;
    /** Whether the next element says how it is encoded. */
    private boolean isEncodedChild;

    private int arrays;

    private FillStylesheet() {}

    /** @param envelope the SOAP envelope around it; null for none */
    static Fill.Stylesheet of(MappingCompiler.Compiled compiled, Fill.@Nullable Envelope envelope) {
        return new FillStylesheet().all(compiled, envelope);
    }

    private Fill.Stylesheet all(MappingCompiler.Compiled compiled, Fill.@Nullable Envelope envelope) {
        if (envelope == null) {
            parts(compiled.rows(), Shape.Role.HEADER, false);
        } else {
            open("soap:Envelope");
            if (compiled.rows().stream().anyMatch(r -> r.shape.role() == Shape.Role.HEADER)) {
                open("soap:Header");
                parts(compiled.rows(), Shape.Role.HEADER, true);
                close("soap:Header");
            }
            open("soap:Body");
            if (envelope.isEncoded() && envelope.isOnBody()) {
                encodingStyle();
            }
            isEncodedChild = envelope.isEncoded() && !envelope.isOnBody();
            parts(compiled.rows(), Shape.Role.HEADER, false);
            close("soap:Body");
            close("soap:Envelope");
        }
        String content = out.toString();
        out.setLength(0);
        depth = 0;
        head(compiled.prefixes(), envelope == null ? null : envelope.namespace());
        out.append(content);
        depth = 1;
        line("</xsl:template>");
        depth = 0;
        line("</xsl:stylesheet>");
        return new Fill.Stylesheet(out.toString(), List.copyOf(values.notes()));
    }

    private void parts(List<Row> rows, Shape.Role role, boolean isIt) {
        rows.stream().filter(r -> (r.shape.role() == role) == isIt).forEach(this::row);
    }

    private void head(Map<String, String> prefixes, @Nullable String envelope) {
        line("<?xml version=\"1.0\" encoding=\"UTF-8\"?>");
        StringBuilder names = new StringBuilder();
        prefixes.forEach((ns, p) -> names.append("\n    xmlns:")
                .append(p)
                .append("=\"")
                .append(Escape.xml(ns))
                .append('"'));
        if (envelope != null) {
            names.append("\n    xmlns:soap=\"").append(envelope).append('"');
        }
        if (!prefixes.containsKey(XmlSchemas.XSI)) {
            names.append("\n    xmlns:xsi=\"").append(XmlSchemas.XSI).append('"');
        }
        line("<xsl:stylesheet version=\"3.0\" xmlns:xsl=\"http://www.w3.org/1999/XSL/Transform\""
                + "\n    xmlns:xs=\"" + XmlSchemas.XSD + "\" xmlns:map=\"http://www.w3.org/2005/xpath-functions/map\""
                + "\n    xmlns:wk=\"" + Functions.NAMESPACE + "\"" + names
                + "\n    exclude-result-prefixes=\"xs map wk\">");
        depth = 1;
        values.notes().forEach(n -> line("<!-- " + n.replaceAll("-(?=-)", "- ") + " -->"));
        line("<xsl:param name=\"record\" select=\".\"/>");
        values.variables().stream()
                .filter(v -> !v.equals("record"))
                .forEach(v -> line("<xsl:param name=\"" + v + "\" select=\"()\"/>"));
        values.lists().forEach(this::list);
        line("<xsl:template match=\"*\">");
        depth = 0;
    }

    private void list(ListRule rule, String name) {
        StringBuilder entries = new StringBuilder();
        Set<String> seen = new LinkedHashSet<>();
        rule.entries().stream().filter(e -> seen.add(e.from())).forEach(e -> entries.append(
                        entries.length() == 0 ? "" : ", ")
                .append(StylesheetValues.literal(e.from()))
                .append(": ")
                .append(StylesheetValues.literal(e.to())));
        line("<xsl:variable name=\"" + name + "\" select=\"map{" + quoted(entries.toString()) + "}\"/>");
    }

    private void line(String text) {
        out.append("  ".repeat(depth)).append(text).append('\n');
    }

    private void open(String tag) {
        line("<" + tag + ">");
        depth++;
    }

    private void close(String tag) {
        depth--;
        line("</" + tag + ">");
    }

    private void openTest(String instruction, String test) {
        line("<xsl:" + instruction + " test=\"" + quoted(test) + "\">");
        depth++;
    }

    private void openSelect(String instruction, String select) {
        line("<xsl:" + instruction + " select=\"" + quoted(select) + "\">");
        depth++;
    }

    /** As {@link Row#write} does. */
    private void row(Row row) {
        if (row.each == null) {
            once(row);
            return;
        }
        openSelect("for-each", values.source(row.each));
        once(row);
        close("xsl:for-each");
    }

    private void once(Row row) {
        if (!row.kinds.isEmpty()) {
            open("xsl:choose");
            for (Row.KindChoice k : row.kinds) {
                String when = k.when() == null ? null : "boolean(" + values.source(k.when()) + ")";
                openBranch(when);
                once(k.row());
                closeBranch(when);
            }
            close("xsl:choose");
            return;
        }
        switch (row.shape.kind()) {
            case CHOICE -> choice(row);
            case GROUP -> row.children.forEach(this::row);
            case ANY -> any(row);
            case ATTRIBUTE -> attribute(row);
            case ANY_ATTRIBUTE -> values.note(row, "any attribute is not part of this stylesheet");
            case ELEMENT -> {
                if (row.hasScalar) {
                    leaf(row);
                } else {
                    element(row);
                }
            }
        }
    }

    private void openBranch(@Nullable String when) {
        if (when == null) {
            open("xsl:otherwise");
        } else {
            openTest("when", when);
        }
    }

    private void closeBranch(@Nullable String when) {
        close(when == null ? "xsl:otherwise" : "xsl:when");
    }

    private void choice(Row row) {
        boolean isChosen = row.children.size() == 1 && row.shape.isRequired();
        if (row.children.isEmpty()) {
            return;
        }
        if (isChosen) {
            row(row.children.get(0));
            return;
        }
        open("xsl:choose");
        for (int i = 0; i < row.children.size(); ) {
            Row branch = row.children.get(i);
            openTest("when", values.filled(branch));
            do {
                row(row.children.get(i++));
            } while (i < row.children.size() && row.children.get(i).declared == branch.declared);
            close("xsl:when");
        }
        close("xsl:choose");
    }

    private void any(Row row) {
        if (row.value == null) {
            if (row.constant != null && !row.constant.isBlank()) {
                out.append("  ".repeat(depth)).append(row.constant.strip()).append('\n');
            }
            return;
        }
        // Elements, such as a document filled before, as they are; what is only a text is taken as XML.
        String items = "(" + values.source(row.value) + ")";
        line("<xsl:copy-of select=\""
                + quoted("if (exists(" + items + "[. instance of node()]/(* | @*))) then " + items + " else " + items
                        + " ! parse-xml-fragment(string(.))")
                + "\"/>");
    }

    private void attribute(Row row) {
        if (isLeftOut(row)) {
            return;
        }
        if (row.value == null && row.constant == null) {
            return;
        }
        boolean isOptional = row.whenEmpty == WhenEmpty.OMIT && !row.shape.isRequired();
        String test = row.value == null
                ? null
                : isOptional ? values.hasText(row) : "exists(" + values.source(row.value) + ")";
        if (row.value == null && isOptional && row.constant.isEmpty()) {
            return;
        }
        if (test != null) {
            openTest("if", test);
        }
        line("<xsl:attribute name=\"" + row.tagName + "\" select=\""
                + quoted(row.value == null ? StylesheetValues.literal(row.constant) : values.text(row)) + "\"/>");
        if (test != null) {
            close("xsl:if");
        }
    }

    private boolean isLeftOut(Row row) {
        if (row.secret != null) {
            values.note(row, "the secret " + row.secret + " is not part of this stylesheet");
        } else if (row.isFile) {
            values.note(row, "the content of a file is not part of this stylesheet");
        }
        return row.secret != null || row.isFile;
    }

    private void leaf(Row row) {
        if (isLeftOut(row)) {
            return;
        }
        boolean hasValue = row.value != null || row.constant != null;
        if (row.whenEmpty == WhenEmpty.NIL) {
            String test = row.value == null ? (row.constant == null ? "false()" : "true()") : values.hasText(row);
            open("xsl:choose");
            openTest("when", test);
            withText(row);
            close("xsl:when");
            open("xsl:otherwise");
            nil(row);
            close("xsl:otherwise");
            close("xsl:choose");
        } else if (row.shape.isRequired()) {
            withText(row);
        } else if (!hasValue) {
            onlyAttributes(row);
        } else {
            String test = row.value == null
                    ? (row.constant.isEmpty() && row.whenEmpty == WhenEmpty.OMIT ? "false()" : "true()")
                    : row.whenEmpty == WhenEmpty.OMIT
                            ? values.hasText(row)
                            : "exists(" + values.source(row.value) + ")";
            if (row.attributes.isEmpty()) {
                openTest("if", test);
                withText(row);
                close("xsl:if");
            } else {
                open("xsl:choose");
                openTest("when", test);
                withText(row);
                close("xsl:when");
                open("xsl:otherwise");
                onlyAttributes(row);
                close("xsl:otherwise");
                close("xsl:choose");
            }
        }
    }

    /** An element whose text has no value is there for its attributes. */
    private void onlyAttributes(Row row) {
        if (row.attributes.isEmpty()) {
            return;
        }
        openTest("if", values.anyFilled(row.attributes));
        start(row);
        row.attributes.forEach(this::row);
        end(row);
        close("xsl:if");
    }

    private void withText(Row row) {
        start(row);
        row.attributes.forEach(this::row);
        if (row.value != null) {
            line("<xsl:value-of select=\"" + quoted(values.text(row)) + "\"/>");
        } else if (row.constant != null) {
            line("<xsl:text>" + Escape.xml(row.constant) + "</xsl:text>");
        }
        end(row);
    }

    private void nil(Row row) {
        start(row);
        row.attributes.forEach(this::row);
        line("<xsl:attribute name=\"xsi:nil\" select=\"'true'\"/>");
        end(row);
    }

    private void start(Row row) {
        line("<" + row.tagName + ">");
        depth++;
        if (isEncodedChild) {
            encodingStyle();
            isEncodedChild = false;
        }
        Matcher type = XSI_TYPE.matcher(row.openTag);
        if (type.find()) {
            line("<xsl:attribute name=\"xsi:type\" select=\"'" + type.group(1) + "'\"/>");
        }
    }

    private void encodingStyle() {
        line("<xsl:attribute name=\"soap:encodingStyle\" select=\"'" + XmlSchemas.SOAP_ENCODING + "'\"/>");
    }

    private void end(Row row) {
        close(row.tagName);
    }

    private void element(Row row) {
        if (row.copy != null) {
            values.note(row, "what is taken as it is, is not part of this stylesheet");
            return;
        }
        if (row.whenEmpty == WhenEmpty.NIL && row.value == null && row.children.isEmpty()) {
            nil(row);
            return;
        }
        boolean isKept = row.shape.isRequired() || row.each != null || row.whenEmpty == WhenEmpty.KEEP;
        if (!isKept) {
            openTest("if", values.anyFilled(StylesheetValues.join(row.attributes, row.children)));
        }
        start(row);
        row.attributes.forEach(this::row);
        if (row.arrayType == null) {
            row.children.forEach(this::row);
        } else {
            array(row);
        }
        end(row);
        if (!isKept) {
            close("xsl:if");
        }
    }

    /** How many there are is said before them (SOAP 1.1 §5.4.2). */
    private void array(Row row) {
        String items = "items-" + ++arrays;
        open("xsl:variable name=\"" + items + "\" as=\"element()*\"");
        row.children.forEach(this::row);
        close("xsl:variable");
        line("<xsl:attribute name=\"" + row.arrayAttribute + "\" select=\"concat('" + row.arrayType + "[', count($"
                + items + "), ']')\"/>");
        line("<xsl:copy-of select=\"$" + items + "\"/>");
    }

    private static String quoted(String text) {
        StringBuilder to = new StringBuilder(text.length() + 16);
        Escape.attribute(text, to);
        return to.toString();
    }
}
