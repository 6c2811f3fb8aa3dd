package org.wirekettle.connector;

import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * What rows do to a table.
 *
 * @param keys labels of the columns by which a row is known; empty when rows are only inserted
 * @param fields names of what is written, as far as they are known: other columns are left to the database. Empty for
 *     all columns
 */
public record TableWrite(Mode mode, List<String> keys, Set<String> fields) {
    /** All rows are new. */
    public static final TableWrite INSERT = new TableWrite(Mode.INSERT, List.of(), Set.of());

    /** What happens to the row with the same key. */
    public enum Mode {
        INSERT,
        UPDATE,
        /** Inserted when it is not there, otherwise updated. */
        UPSERT,
        DELETE;

        /** As definitions have it. @throws IllegalArgumentException in words */
        public static Mode of(String word) {
            if (word == null) {
                return INSERT;
            }
            for (Mode m : values()) {
                if (m.word().equals(word)) {
                    return m;
                }
            }
            throw new IllegalArgumentException("Rows are inserted, updated or deleted: the mode is insert, update,"
                    + " upsert (insert, or update by key) or delete, not " + word + ".");
        }

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** @throws IllegalArgumentException in words, when there is no key for what is to be done */
    public TableWrite {
        keys = List.copyOf(keys);
        fields = Set.copyOf(fields);
        if (mode != Mode.INSERT && keys.isEmpty()) {
            throw new IllegalArgumentException("Say by which columns a row is known that is there already.");
        }
    }
}
