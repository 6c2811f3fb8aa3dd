package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlNames;

/** Rows as elements of an XML document (XML 1.0). */
public final class XmlRows implements RowFormat {
    private final String root;
    private final String row;

    /**
     * @param root the document's element
     * @param row the element of each row; null for the name it has
     * @throws IllegalArgumentException in words, when one is no name
     */
    public XmlRows(String root, String row) {
        this.root = root;
        this.row = row == null || row.isBlank() ? null : row;
        for (String name : row == null || row.isBlank() ? List.of(root) : List.of(root, row)) {
            if (!XmlNames.isName(name)) {
                throw new IllegalArgumentException("“" + name + "” is no name of an element.");
            }
        }
    }

    @Override
    public byte[] head() {
        return utf8("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<" + root + ">\n");
    }

    @Override
    public byte[] tail() {
        return utf8("</" + root + ">\n");
    }

    private static byte[] utf8(String s) {
        return s.getBytes(StandardCharsets.UTF_8);
    }

    @Override
    public byte[] rows(List<Node> rows, boolean isFirst) {
        StringBuilder out = new StringBuilder();
        for (Node r : rows) {
            out.append(NodeXml.write(row == null || r.name().equals(row) ? r : r.copy(row)))
                    .append('\n');
        }
        return utf8(out.toString());
    }

    /** Some characters cannot be in XML, however they are written. */
    @Override
    public Optional<String> refusal(Node n) {
        for (Node a : n.attributes()) {
            Optional<String> bad = refusal(a);
            if (bad.isPresent()) {
                return bad;
            }
        }
        if (n.isLeaf() && !Escape.isWritable(n.string())) {
            return Optional.of(n.name() + ": " + Show.value(n.string()) + " has a character that XML cannot have");
        }
        for (Node c : n.children()) {
            Optional<String> bad = refusal(c);
            if (bad.isPresent()) {
                return bad;
            }
        }
        return Optional.empty();
    }

    @Override
    public void reopen(Path there, Path underWay) throws IOException {
        RowFormat.copy(there, underWay);
        if (!FileEnd.cut(underWay, "</" + root + ">")) {
            throw new IOException(notOurs(there));
        }
        // Behind the last row a new one begins its own line.
        Files.write(underWay, utf8("\n"), java.nio.file.StandardOpenOption.APPEND);
    }

    private String notOurs(Path file) {
        return "The file " + file.getFileName() + " does not end with </" + root
                + ">, so that rows could be added to it.";
    }

    @Override
    public Optional<String> problem(Path file) throws IOException {
        if (Files.notExists(file) || Files.size(file) == 0) {
            return Optional.empty();
        }
        return FileKind.of(file) == FileKind.XML
                ? Optional.empty()
                : Optional.of("The file " + file.getFileName() + " is no XML.");
    }
}
