package org.wirekettle.trigger.page;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.file.GivenFile;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputReading;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ValueKind;
import org.wirekettle.xml.FieldNames;

/** An input that a file is chosen for. */
record AskedFile(Input input) {
    private static final String BYTES = "base64Binary";

    /** Whether it gets the rows of the file, each with values of its own. */
    boolean isRows() {
        return input.fields() != null && Boolean.TRUE.equals(input.many());
    }

    /** @throws org.wirekettle.problem.Refused when no file can be chosen for it */
    static AskedFile of(Input input) {
        AskedFile out = new AskedFile(input);
        boolean isText = input.fields() == null && !Boolean.TRUE.equals(input.many());
        if (!out.isRows() && !isText) {
            throw PageTrigger.refused(
                    "fields",
                    "No file can be chosen for " + input.name()
                            + ": it is a text, Base64 for the bytes of one, or a list with inputs inside for its rows.");
        }
        return out;
    }

    /** @param given an object with its {@code name}, and its {@code content} as Base64 */
    void read(JsonNode given, InputReading to) {
        String at = "/" + input.name();
        String content = given.path("content").asText("");
        try {
            byte[] bytes = Base64.getMimeDecoder().decode(content);
            if (isRows()) {
                to.tree(rows(GivenFile.rows(bytes, this::wanted)));
            } else {
                to.texts(input.name(), at, List.of(BYTES.equals(input.type()) ? content : GivenFile.text(bytes)));
            }
        } catch (IllegalArgumentException e) {
            to.problem(at, "is not sent as Base64");
        } catch (IOException e) {
            to.problem(at, "cannot be read: " + e.getMessage());
        }
    }

    /** Which kind of value a column is for; null for one that is no input. */
    private @Nullable ValueKind wanted(String label) {
        return input.fields().stream()
                .filter(f -> f.fields() == null && plain(f.name()).equals(plain(label)))
                .map(f -> ValueKind.of(f.type()))
                .findFirst()
                .orElse(null);
    }

    /** A record with the rows as values of the input; columns that are no inputs are left out, and empty values. */
    private Node rows(List<Node> rows) throws IOException {
        Map<String, String> names = new HashMap<>();
        input.fields().forEach(f -> names.put(plain(f.name()), f.name()));
        Node out = new Node("", "record");
        boolean fitsAny = rows.isEmpty();
        for (Node row : rows) {
            Node made = new Node("", FieldNames.name(input.name()));
            for (Node value : row.children()) {
                String name = names.get(plain(FieldNames.label(value.name())));
                fitsAny |= name != null;
                boolean isEmpty = value.isLeaf() && value.string().isBlank();
                if (name != null && !isEmpty) {
                    made.add(value.copy(FieldNames.name(name)));
                }
            }
            out.add(made);
        }
        if (!fitsAny) {
            throw new IOException("none of its columns is one of "
                    + String.join(", ", input.fields().stream().map(Input::name).toList()));
        }
        return out;
    }

    /** As far as two writings of a column's name are the same. */
    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]", "");
    }
}
