package org.wirekettle.connector.file;

import org.jspecify.annotations.Nullable;

/**
 * That a field's values are read as a type, so that every record has them in XSD's form; one that does not fit makes a
 * bad record.
 *
 * @param field where the values stand in a record: a name, or names with / between them
 * @param type {@code integer}, {@code decimal}, {@code boolean}, {@code date}, {@code dateTime}, {@code string}
 * @param pattern how they are written, as a {@link org.wirekettle.connector.Field} says it; null for XSD's form
 */
public record ReadAs(String field, String type, @Nullable String pattern) {}
