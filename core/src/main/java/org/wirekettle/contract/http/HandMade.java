package org.wirekettle.contract.http;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.HttpTemplate.In;
import org.wirekettle.problem.Refused;

/**
 * Operations of plain HTTP as somebody described them who has no description. Kept in an OpenAPI document, which says
 * the same to everybody else.
 *
 * @param address of the service; null when the connection gives it
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record HandMade(@Nullable String address, List<HandOperation> operations) {
    /** Where the document has it. */
    static final String EXTENSION = "x-by-hand";
    /** The document's name. */
    public static final String DOCUMENT = "by-hand.json";

    private static final int MAX_OPERATIONS = 200;
    private static final int MAX_FIELDS = 500;
    private static final int MAX_SAMPLE = 1024 * 1024;
    private static final Set<String> METHODS = Set.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS");
    private static final ObjectMapper JSON = new ObjectMapper();

    public HandMade {
        operations = operations == null ? List.of() : List.copyOf(operations);
    }

    /**
     * One of them.
     *
     * @param path with the names of values in braces
     * @param parameters besides those that the path names; may say more of those
     * @param body null for none
     * @param answer null for no content
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record HandOperation(
            String name,
            String method,
            String path,
            @Nullable String documentation,
            @Nullable List<HandParameter> parameters,
            @Nullable Sample body,
            @Nullable Sample answer) {
        public HandOperation {
            parameters = parameters == null ? List.of() : List.copyOf(parameters);
        }
    }

    /** @param repeated whether there may be several values */
    public record HandParameter(In in, String name, FieldType type, boolean required, boolean repeated) {}

    /**
     * A message told by one of its kind.
     *
     * @param text such a message; its fields and their types are guessed from it
     * @param fields where the guess is not right
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Sample(
            Form form, @Nullable String text, @Nullable List<SampleField> fields) {
        public Sample {
            fields = fields == null ? List.of() : List.copyOf(fields);
        }
    }

    /** @param path names from the outermost value on, with slashes between; arrays have no name of their own */
    public record SampleField(String path, FieldType type, boolean required) {}

    /** What a field holds. */
    public enum FieldType {
        TEXT("string", null, "string"),
        INTEGER("integer", null, "integer"),
        NUMBER("number", null, "decimal"),
        TRUTH("boolean", null, "boolean"),
        DATE("string", "date", "date"),
        DATE_TIME("string", "date-time", "dateTime");

        private final String type;
        private final String format;
        private final String xsd;

        FieldType(String type, @Nullable String format, String xsd) {
            this.type = type;
            this.format = format;
            this.xsd = xsd;
        }

        /** The local name of XML Schema's type for it. */
        public String xsd() {
            return xsd;
        }

        String type() {
            return type;
        }

        @Nullable
        String format() {
            return format;
        }
    }

    /** @throws Refused in words, when it cannot be kept so */
    public void check() {
        if (operations.isEmpty() || operations.size() > MAX_OPERATIONS) {
            throw refused("A contract made by hand has from one to " + MAX_OPERATIONS + " operations.");
        }
        if (address != null && !address.isBlank() && !address.matches("https?://\\S+")) {
            throw refused("“" + address + "” is no address; it begins with http:// or https://.");
        }
        Set<String> names = new HashSet<>();
        for (HandOperation o : operations) {
            if (o.name() == null || !o.name().matches("[\\p{L}_][\\p{L}\\p{N}_.-]{0,99}")) {
                throw refused("An operation needs a name: letters, digits and _ . -, a letter first.");
            }
            if (!names.add(o.name())) {
                throw refused("There are two operations named " + o.name() + ".");
            }
            check(o);
        }
    }

    private static void check(HandOperation o) {
        if (o.method() == null || !METHODS.contains(o.method())) {
            throw refused(o.name() + ": the method is one of " + String.join(", ", new java.util.TreeSet<>(METHODS)));
        }
        if (o.path() == null || !o.path().matches("/(?!/)[^\\s?#]{0,500}")) {
            throw refused(o.name() + ": the path begins with one slash, and has no blanks, no ? and no #.");
        }
        if (!o.path().replaceAll("\\{[^{}/]+}", "").matches("[^{}]*")) {
            throw refused(o.name() + ": the braces of the path do not fit: a value is written {name}.");
        }
        if (o.parameters().size() > MAX_FIELDS
                || o.parameters().stream().anyMatch(p -> p.in() == null || p.type() == null || blank(p.name()))) {
            throw refused(
                    o.name() + ": a parameter has a place, a name and a type; there are at most " + MAX_FIELDS + ".");
        }
        for (Sample s : java.util.Arrays.asList(o.body(), o.answer())) {
            if (s != null && (s.form() == null || s.text() != null && s.text().length() > MAX_SAMPLE)) {
                throw refused(o.name() + ": a sample has at most " + MAX_SAMPLE + " characters.");
            }
        }
    }

    private static boolean blank(@Nullable String s) {
        return s == null || s.isBlank() || s.length() > 200;
    }

    private static Refused refused(String text) {
        return new Refused("contract.by-hand", null, text);
    }

    /** @return empty for a contract that was read from a description of somebody else */
    public static Optional<HandMade> of(Contract contract) {
        return contract.documents().stream()
                .filter(d -> d.uri().equals(DOCUMENT))
                .findFirst()
                .flatMap(d -> {
                    JsonNode kept = TreeText.of(d.uri(), d.bytes()).read().path(EXTENSION);
                    try {
                        return kept.isMissingNode()
                                ? Optional.empty()
                                : Optional.of(JSON.treeToValue(kept, HandMade.class));
                    } catch (JsonProcessingException e) {
                        throw new IllegalStateException("it was written from one", e);
                    }
                });
    }
}
