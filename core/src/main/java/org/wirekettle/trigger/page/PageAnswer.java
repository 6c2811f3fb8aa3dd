package org.wirekettle.trigger.page;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonRawValue;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.input.InputProblem;
import org.wirekettle.trigger.HttpAnswer;

/**
 * What a page says when it was asked: in the words of its owner, and nothing of what failed inside.
 *
 * @param reply as JSON; null for none
 * @param problems of what was given, each with the path of its input
 * @param reference by which others find what happened; null when nothing did
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PageAnswer(
        Outcome outcome,
        String title,
        @Nullable String text,
        @Nullable List<PageNotice> notes,
        @Nullable @JsonRawValue String reply,
        @Nullable List<InputProblem> problems,
        @Nullable String reference) {
    private static final ObjectMapper JSON = new ObjectMapper();
    static final String TYPE = "application/json";

    /** How it ended. */
    public enum Outcome {
        DONE,
        /** What was given does not fit; nothing was done. */
        UNFIT,
        FAILED,
        /** It may have been done, or not. */
        UNKNOWN,
        /** It is being worked on: asked again with the same number, it says what came of it. */
        WORKING,
        /** It cannot be asked at the moment; nothing was done. */
        LATER,
        /** Whoever asked may not; nothing was done. */
        REFUSED
    }

    /** Something worth knowing beside. @param text below the title; null for none */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PageNotice(String title, @Nullable String text) {}

    static PageAnswer of(Outcome outcome, String title, @Nullable String text) {
        return new PageAnswer(outcome, title, text, null, null, null, null);
    }

    HttpAnswer as(int status) {
        try {
            return new HttpAnswer(status, TYPE, JSON.writeValueAsBytes(this));
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("texts can be written", e);
        }
    }

    /** Where no flow answers: what the page says of it. */
    public static HttpAnswer refusal(HttpAnswer.Body problem) {
        PageAnswer said =
                switch (problem.code()) {
                    case "request.underway" -> of(Outcome.WORKING, "It is being worked on.", null);
                    case "request.lost" ->
                        of(
                                Outcome.UNKNOWN,
                                "What came of it is not known.",
                                "It broke off while it was worked on. Find out whether it was done before you try again.");
                    case "endpoint.paused" -> of(Outcome.LATER, "This page is paused.", "Come again later.");
                    case "endpoint.starting", "endpoint.busy", "request.again" ->
                        of(Outcome.LATER, "Just a moment.", "Try again in a few seconds.");
                    case "endpoint.failed", "endpoint.ends" ->
                        of(Outcome.LATER, "This does not work at the moment.", "Try again in a few minutes.");
                    case "key.limit" -> of(Outcome.LATER, "It was asked very often.", "Wait a moment, then try again.");
                    case "key" -> of(Outcome.REFUSED, "This link does not work, or does not any more.", null);
                    default -> of(Outcome.FAILED, "It did not work.", null);
                };
        return new PageAnswer(
                        said.outcome,
                        said.title,
                        said.text,
                        null,
                        null,
                        null,
                        problem.run() == null ? null : String.valueOf(problem.run()))
                .as(problem.status());
    }
}
