package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Taken;
import org.wirekettle.http.HttpPath;
import org.wirekettle.problem.Refused;

/**
 * How a flow is asked over HTTP. Plain data; stored as it is.
 *
 * @param method GET, POST, PUT, PATCH or DELETE
 * @param path with inputs in braces, such as {@code /berths/{port}/free}
 * @param places of inputs that come from elsewhere than usual; usual are the path for those it names, the query for the
 *     others of GET and DELETE, the body otherwise
 * @param replies what is answered to failures of the flow; the first that fits counts
 * @param open whether no key is needed
 * @param origins of pages that may ask from a browser, such as {@code https://desk.gannet.example}; {@code *} for any
 * @param maxBodyBytes of a request; null for one million
 * @param text what it is for, for those who ask
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record HttpTrigger(
        String method,
        String path,
        @Nullable List<InputPlace> places,
        @Nullable List<ReplyRule> replies,
        @Nullable Boolean open,
        @Nullable List<String> origins,
        @Nullable Integer maxBodyBytes,
        @Nullable String text)
        implements WebTrigger {
    public static final List<String> METHODS = List.of("GET", "POST", "PUT", "PATCH", "DELETE");
    /** More is no request to be answered while somebody waits. */
    public static final int MOST_BODY_BYTES = 32_000_000;

    /** The path of the description of all that is published. */
    public static final String DESCRIPTION = "/openapi.json";

    static final int USUAL_BODY_BYTES = 1_000_000;
    private static final int MOST_RULES = 50;

    /** Where an input comes from. */
    public enum PlaceOf {
        PATH,
        QUERY,
        HEADER,
        BODY;

        String words() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Where one input comes from.
     *
     * @param name there; null for the input's own
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record InputPlace(
            String input, PlaceOf in, @Nullable String name) {
        public InputPlace {
            if (input == null || in == null) {
                throw new IllegalArgumentException("a place of an input names no input, or no place");
            }
        }
    }

    /**
     * What is answered to a failure.
     *
     * @param codes of failures, see {@link org.wirekettle.call.FailureCode#isAmong}
     * @param status 400 to 599
     */
    public record ReplyRule(List<String> codes, int status) {
        public ReplyRule {
            if (codes == null || codes.stream().anyMatch(c -> c == null || c.isBlank())) {
                throw new IllegalArgumentException("a rule for replies names no failure");
            }
            codes = List.copyOf(codes);
        }
    }

    public HttpTrigger {
        places = places == null ? List.of() : List.copyOf(places);
        replies = replies == null ? List.of() : List.copyOf(replies);
        origins = origins == null ? List.of() : List.copyOf(origins);
        maxBodyBytes = maxBodyBytes == null ? USUAL_BODY_BYTES : maxBodyBytes;
        open = open == null ? Boolean.FALSE : open;
    }

    @Override
    public HttpTrigger checked() {
        if (method == null || !METHODS.contains(method)) {
            throw refused("method", "The method is one of " + String.join(", ", METHODS) + ".");
        }
        if (HttpPath.of(path).form().equals(DESCRIPTION)) {
            throw refused("path", DESCRIPTION + " describes all that is published; choose another path.");
        }
        if (maxBodyBytes < 1 || maxBodyBytes > MOST_BODY_BYTES) {
            throw refused("maxBodyBytes", "A body may have 1 to " + MOST_BODY_BYTES + " bytes.");
        }
        if (replies.size() > MOST_RULES || origins.size() > MOST_RULES) {
            throw refused("replies", "There may be " + MOST_RULES + " rules for replies, and as many origins.");
        }
        for (ReplyRule r : replies) {
            if (r.status() < 400 || r.status() > 599) {
                throw refused(
                        "replies", "A failure is answered with a status from 400 to 599, not " + r.status() + ".");
            }
        }
        for (String o : origins) {
            if (o == null || !o.equals("*") && !o.matches("https?://[^/\\s]+")) {
                throw refused("origins", "An origin is a scheme and a host, such as https://desk.gannet.example.");
            }
        }
        return this;
    }

    @Override
    public String askedBy() {
        return method + " " + path;
    }

    @Override
    public HttpEndpoint endpoint(Taken taken) {
        if (taken.operation() != null) {
            throw refused("flow", "The flow answers an operation of a contract: publish it by SOAP.");
        }
        return HttpEndpoint.of(this, taken.inputs(), taken.reply());
    }

    static Refused refused(String what, String text) {
        return new Refused("http." + what, null, text);
    }
}
