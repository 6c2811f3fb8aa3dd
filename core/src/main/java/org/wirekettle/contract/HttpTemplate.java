package org.wirekettle.contract;

import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * How an operation is asked for by plain HTTP (RFC 9110): where its values go, and how they are written. Immutable.
 *
 * @param path with the names of parameters in braces (OpenAPI 3.1 §4.8.8)
 * @param body null when nothing is sent beside the address and the headers
 * @param answers what is expected back, by status
 */
public record HttpTemplate(
        String method,
        String path,
        List<Parameter> parameters,
        @Nullable Body body,
        List<Answer> answers) {
    private static final Pattern VARIABLE = Pattern.compile("\\{([^{}]+)}");

    /** The parts of a request, as elements of its shape. */
    public static final String BODY = "body";

    /** What is around the value of an answer that is JSON, text, or nothing at all. */
    public static final String JSON_ANSWER = "json";

    public static final String TEXT_ANSWER = "text";
    public static final String NO_ANSWER = "empty";
    /** The attribute of an answer that has its status. */
    public static final String STATUS = "status";

    /** Where a parameter goes. */
    public enum In {
        PATH,
        QUERY,
        HEADER,
        COOKIE;

        /** The element its parameters are in. */
        public String part() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** How several values of one parameter are written (OpenAPI 3.1 §4.8.12). */
    public enum Style {
        /** One after the other, with commas. */
        LISTED,
        SPACES,
        PIPES,
        /** The parameter again for each. */
        AGAIN,
        /** Members in brackets behind the name. */
        DEEP,
        /** As JSON. */
        JSON
    }

    /**
     * A parameter.
     *
     * @param name its element's
     * @param label as it is sent
     */
    public record Parameter(In in, String name, String label, Style style) {}

    /** How a message is written. */
    public enum Form {
        JSON,
        XML,
        /** {@code application/x-www-form-urlencoded} (WHATWG URL §5). */
        FORM,
        /** {@code multipart/form-data} (RFC 7578). */
        PARTS,
        TEXT,
        /** As they are; in the shape in Base64. */
        BYTES;

        /** @param mediaType with or without parameters; null for none */
        public static Form of(@Nullable String mediaType) {
            String t = mediaType == null
                    ? ""
                    : mediaType.replaceFirst(";.*", "").strip().toLowerCase(Locale.ROOT);
            if (t.equals("application/json") || t.endsWith("+json") || t.equals("text/json")) {
                return JSON;
            }
            if (t.equals("application/xml") || t.equals("text/xml") || t.endsWith("+xml")) {
                return XML;
            }
            return switch (t) {
                case "application/x-www-form-urlencoded" -> FORM;
                case "multipart/form-data" -> PARTS;
                default -> t.startsWith("text/") ? TEXT : BYTES;
            };
        }
    }

    /** What is sent. */
    public record Body(String mediaType, Form form) {}

    /**
     * What is expected back.
     *
     * @param status a number, {@code 4XX} for all that begin so, or {@code default} for all others
     * @param mediaType null for no content
     * @param headers that are told of
     */
    public record Answer(String status, @Nullable String mediaType, List<String> headers) {
        public boolean isOf(int actual) {
            return status.equals(Integer.toString(actual))
                    || status.length() == 3
                            && status.toUpperCase(Locale.ROOT).endsWith("XX")
                            && status.charAt(0) - '0' == actual / 100
                    || status.equals("default");
        }
    }

    /** The names that stand in braces in a path, in order. */
    public static List<String> variables(String path) {
        return VARIABLE.matcher(path).results().map(r -> r.group(1)).toList();
    }

    /** What is expected with a status: the most exact that was declared; null when nothing was. */
    public @Nullable Answer answer(int status) {
        return answers.stream()
                .filter(a -> a.isOf(status))
                .min(java.util.Comparator.comparingInt(
                        a -> a.status().equals("default") ? 2 : a.status().endsWith("XX") ? 1 : 0))
                .orElse(null);
    }

    /** Whether asking twice does no more than asking once (RFC 9110 §9.2.2). */
    public boolean isIdempotent() {
        return switch (method) {
            case "GET", "HEAD", "OPTIONS", "TRACE", "PUT", "DELETE" -> true;
            default -> false;
        };
    }
}
