package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.input.InputProblem;

/**
 * What is answered.
 *
 * @param type of the content; null when there is none
 */
public record HttpAnswer(int status, @Nullable String type, byte[] body) {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String PROBLEM = "application/problem+json";

    /**
     * A problem (RFC 9457) with what is beside the standard's own members.
     *
     * @param code tells it from others
     * @param run where the record's trail is; null when no record was made of the request
     * @param record its number there
     * @param problems each thing that does not fit
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Body(
            String type,
            String title,
            int status,
            String detail,
            String code,
            @Nullable Long run,
            @Nullable Long record,
            @Nullable List<InputProblem> problems) {
        private static final String BLANK = "about:blank";

        public static Body of(int status, String title, String code, String detail) {
            return new Body(BLANK, title, status, detail, code, null, null, null);
        }

        /** The request does not fit what is asked of it. */
        static Body unfit(List<InputProblem> problems) {
            String detail = problems.size() == 1 ? problems.get(0).inWords() : problems.size() + " things do not fit";
            return new Body(
                    BLANK, "The request does not fit", 400, detail.strip(), "request.input", null, null, problems);
        }

        /** The flow did not do it. */
        static Body failed(Trail trail, int status, long run) {
            boolean isUnknown = trail.fate() == Fate.IN_DOUBT;
            String title = isUnknown ? "What came of it is not known" : "The flow could not do it";
            String why = trail.reason() == null ? title : trail.reason();
            return new Body(BLANK, title, status, why, trail.code(), run, trail.number(), null);
        }

        /** With the run that knows more. */
        public Body in(long where) {
            return new Body(type, title, status, detail, code, where, record, problems);
        }
    }

    /** Without content. */
    public static HttpAnswer empty() {
        return new HttpAnswer(204, null, new byte[0]);
    }

    public static HttpAnswer problem(int status, String title, String code, String detail) {
        return problem(Body.of(status, title, code, detail));
    }

    public static HttpAnswer problem(Body body) {
        try {
            return new HttpAnswer(body.status(), PROBLEM, JSON.writeValueAsBytes(body));
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("texts and numbers can be written", e);
        }
    }
}
