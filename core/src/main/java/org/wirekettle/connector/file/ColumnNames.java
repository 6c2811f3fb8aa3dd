package org.wirekettle.connector.file;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.wirekettle.connector.Field;
import org.wirekettle.xml.FieldNames;

/** The columns of a file of rows: labels as they stand there, and names for expressions, no two alike. Immutable. */
final class ColumnNames {
    /** Columns of one file. */
    static final int MAX = 2_000;

    private final List<String> labels;
    private final List<String> names;

    private ColumnNames(List<String> labels, List<String> names) {
        this.labels = labels;
        this.names = names;
    }

    /** @param header labels; null or blank ones are numbered */
    static ColumnNames of(List<String> header) throws IOException {
        if (header.size() > MAX) {
            throw new IOException("it has " + header.size() + " columns; a file may have " + MAX);
        }
        List<String> labels = new ArrayList<>();
        Set<String> names = new LinkedHashSet<>();
        for (int i = 0; i < header.size(); i++) {
            String label = header.get(i) == null ? "" : header.get(i).strip();
            label = label.isEmpty() ? "column " + (i + 1) : label;
            String name = FieldNames.name(label);
            for (int n = 2; !names.add(name); n++) {
                name = FieldNames.name(label) + "_" + n;
            }
            labels.add(label);
        }
        return new ColumnNames(List.copyOf(labels), List.copyOf(names));
    }

    /** Of a file without a header. */
    static ColumnNames numbered(int count) throws IOException {
        List<String> none = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            none.add(null);
        }
        return of(none);
    }

    int size() {
        return names.size();
    }

    String name(int column) {
        return names.get(column);
    }

    List<String> labels() {
        return labels;
    }

    /** As far as is known without reading any row. */
    List<Field> fields() {
        List<Field> out = new ArrayList<>();
        for (int i = 0; i < names.size(); i++) {
            out.add(Field.of(names.get(i), labels.get(i), "string"));
        }
        return out;
    }
}
