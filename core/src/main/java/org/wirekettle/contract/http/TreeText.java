package org.wirekettle.contract.http;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonStreamContext;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.MappingIterator;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLParser;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;
import org.yaml.snakeyaml.LoaderOptions;

/** A document of JSON or YAML as a tree, and where in its text each part of the tree stands. Used by one thread. */
public final class TreeText {
    static final int MAX_BYTES = 32 * 1024 * 1024;
    private static final int MAX_DEPTH = 200;
    /** Each takes some hundred bytes as a part of a tree. */
    private static final long MAX_TOKENS = 2_000_000;

    /** Of longer pointers, and after so many, the line of what is around them is told. */
    private static final int MAX_POINTER = 300;

    private static final int MAX_LINES = 200_000;
    private static final ObjectMapper JSON =
            mapper(JsonFactory.builder().streamReadConstraints(limits()).build());
    private static final ObjectMapper YAML = mapper(YAMLFactory.builder()
            .streamReadConstraints(limits())
            .loaderOptions(options())
            // Yes, no, on and off are texts (YAML 1.2.2 §10.2), whatever older readers take them for.
            .enable(YAMLParser.Feature.PARSE_BOOLEAN_LIKE_WORDS_AS_STRINGS)
            .build());

    private static final String TOO_LONG = "too long";

    private final String document;
    private final String text;
    private final ObjectMapper mapper;
    private Map<String, Integer> lines;

    private TreeText(String document, String text, ObjectMapper mapper) {
        this.document = document;
        this.text = text;
        this.mapper = mapper;
    }

    private static ObjectMapper mapper(JsonFactory of) {
        return JsonMapper.builder(of)
                .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
                .build();
    }

    private static StreamReadConstraints limits() {
        return StreamReadConstraints.builder()
                .maxNestingDepth(MAX_DEPTH)
                .maxTokenCount(MAX_TOKENS)
                .build();
    }

    private static LoaderOptions options() {
        LoaderOptions out = new LoaderOptions();
        out.setCodePointLimit(MAX_BYTES);
        out.setNestingDepthLimit(MAX_DEPTH);
        return out;
    }

    public static TreeText of(String document, byte[] bytes) {
        if (bytes.length > MAX_BYTES) {
            throw new Refused(
                    "openapi.size",
                    Place.of(document),
                    "The document is larger than " + MAX_BYTES / 1024 / 1024 + " MB, the limit.");
        }
        String text = new String(bytes, StandardCharsets.UTF_8);
        String body = text.startsWith("\uFEFF") ? text.substring(1) : text;
        boolean isJson =
                body.stripLeading().startsWith("{") || body.stripLeading().startsWith("[");
        return new TreeText(document, body, isJson ? JSON : YAML);
    }

    /** @throws Refused with line and column when it is no JSON */
    static JsonNode json(String text) {
        return new TreeText("sample", text, JSON).read();
    }

    /** All values of JSON that follow each other, such as one a line. @throws Refused with line and column */
    static List<JsonNode> jsonValues(String document, String text) {
        List<JsonNode> out = new ArrayList<>();
        try (MappingIterator<JsonNode> in = JSON.readerFor(JsonNode.class).readValues(text)) {
            while (in.hasNextValue()) {
                out.add(in.nextValue());
            }
            return out;
        } catch (JsonProcessingException e) {
            throw unreadable(document, e, "");
        } catch (IOException e) {
            throw new UncheckedIOException("memory gives all that is read", e);
        }
    }

    private static Refused unreadable(String document, JsonProcessingException e, String nor) {
        Place place = e.getLocation() == null
                ? Place.of(document)
                : new Place(
                        document, e.getLocation().getLineNr(), e.getLocation().getColumnNr());
        String why = e.getOriginalMessage().replaceAll("(?s)\\s*\\n.*", "");
        return new Refused("openapi.unreadable", place, "It is no JSON" + nor + ": " + why + ".", e);
    }

    /** @throws Refused with line and column when it is neither JSON nor YAML */
    JsonNode read() {
        try {
            JsonNode out = mapper.readTree(text);
            return out == null ? mapper.missingNode() : out;
        } catch (JsonProcessingException e) {
            throw unreadable(document, e, mapper == YAML ? " and no YAML" : "");
        }
    }

    /** @param pointer to a part of the tree (RFC 6901) */
    public Place place(String pointer) {
        if (lines == null) {
            lines = lines();
        }
        for (String p = pointer; ; p = p.substring(0, p.lastIndexOf('/'))) {
            Integer line = lines.get(p);
            if (line != null || p.lastIndexOf('/') < 0) {
                return new Place(document, line == null ? 1 : line, 0);
            }
        }
    }

    private Map<String, Integer> lines() {
        Map<String, Integer> out = new HashMap<>();
        Deque<String> above = new ArrayDeque<>();
        try (JsonParser in = mapper.getFactory().createParser(text)) {
            for (JsonToken t; (t = in.nextToken()) != null && out.size() < MAX_LINES; ) {
                if (t.isStructEnd()) {
                    above.pop();
                } else {
                    JsonStreamContext here = in.getParsingContext();
                    String at = pointer(above, t.isStructStart() ? here.getParent() : here);
                    // A member is where its name is: that comes first.
                    if (!at.equals(TOO_LONG)) {
                        out.putIfAbsent(at, in.currentTokenLocation().getLineNr());
                    }
                    if (t.isStructStart()) {
                        above.push(at);
                    }
                }
            }
        } catch (IOException e) {
            throw new IllegalStateException("it was read before", e);
        }
        return out;
    }

    /** Where a name or a value stands. @param in what it is in */
    private static String pointer(Deque<String> above, JsonStreamContext in) {
        if (above.isEmpty()) {
            return "";
        }
        String own = in.inArray() ? Integer.toString(in.getCurrentIndex()) : in.getCurrentName();
        if (above.peek().equals(TOO_LONG) || above.peek().length() + own.length() > MAX_POINTER) {
            return TOO_LONG;
        }
        return above.peek() + "/" + own.replace("~", "~0").replace("/", "~1");
    }
}
