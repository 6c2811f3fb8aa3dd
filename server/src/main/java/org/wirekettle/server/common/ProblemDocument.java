package org.wirekettle.server.common;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.wirekettle.problem.Place;

/** A problem as a document (RFC 9457): {@code detail} is its text; {@code code} and {@code place} are added. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ProblemDocument(String type, String title, int status, String detail, String code, Place place) {
    static ProblemDocument of(int status, String title, String code, String detail, Place place) {
        return new ProblemDocument("about:blank", title, status, detail, code, place);
    }
}
