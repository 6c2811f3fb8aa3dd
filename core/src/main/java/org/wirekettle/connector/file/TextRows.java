package org.wirekettle.connector.file;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.wirekettle.record.Node;

/** Rows of one text each, written as they are in UTF-8, a line end behind each: answers as they came, or lines. */
public final class TextRows implements RowFormat {
    @Override
    public byte[] head() {
        return new byte[0];
    }

    @Override
    public byte[] rows(List<Node> rows, boolean isFirst) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (Node r : rows) {
            String text = text(r);
            out.writeBytes(text.getBytes(StandardCharsets.UTF_8));
            if (!text.endsWith("\n")) {
                out.write('\n');
            }
        }
        return out.toByteArray();
    }

    private static String text(Node row) {
        return row.isLeaf() ? row.string() : row.children().get(0).string();
    }

    /** Several fields would run into each other. */
    @Override
    public Optional<String> refusal(Node row) {
        boolean isOne = row.isLeaf()
                || row.children().size() == 1 && row.children().get(0).isLeaf();
        return isOne
                ? Optional.empty()
                : Optional.of("a file of text takes rows of one text each; this one has "
                        + row.children().size() + " fields: choose which one is written");
    }
}
