package org.wirekettle.server.common;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.wirekettle.problem.Place;

/** A problem document (RFC 9457). {@code code} is stable, for programs; {@code detail} is for people. */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Problem(String type, String title, int status, String detail, String code, Place place) {
    static Problem of(int status, String title, String code, String detail, Place place) {
        return new Problem("about:blank", title, status, detail, code, place);
    }
}
