package org.wirekettle.shape;

import java.util.Set;

/** Which values a type has, roughly: those of different kinds do not fit each other, whatever their restrictions. */
public enum ValueKind {
    TEXT("text"),
    NUMBER("a number"),
    TRUTH("true or false"),
    DATE("a date"),
    DATE_TIME("a date with time"),
    TIME("a time");

    private static final Set<String> NUMBERS = Set.of(
            "decimal",
            "integer",
            "long",
            "int",
            "short",
            "byte",
            "double",
            "float",
            "nonNegativeInteger",
            "positiveInteger",
            "nonPositiveInteger",
            "negativeInteger",
            "unsignedLong",
            "unsignedInt",
            "unsignedShort",
            "unsignedByte");

    /** Numbers that may have decimals. */
    private static final Set<String> WITH_PARTS = Set.of("decimal", "double", "float");

    private final String words;

    ValueKind(String words) {
        this.words = words;
    }

    /** @param type a built-in type's local name (XSD part 2 §3); null for text */
    public static ValueKind of(String type) {
        if (type == null) {
            return TEXT;
        }
        return switch (type) {
            case "boolean" -> TRUTH;
            case "date" -> DATE;
            case "dateTime", "dateTimeStamp" -> DATE_TIME;
            case "time" -> TIME;
            default -> NUMBERS.contains(type) ? NUMBER : TEXT;
        };
    }

    /** Whether a type's values are whole numbers. @param type a built-in type's local name; null for text */
    public static boolean isWhole(String type) {
        return type != null && NUMBERS.contains(type) && !WITH_PARTS.contains(type);
    }

    /** As people say it. */
    public String words() {
        return words;
    }
}
