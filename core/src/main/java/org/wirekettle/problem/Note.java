package org.wirekettle.problem;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;

/**
 * A reading note: what was wrong, in the standard's terms, and what was assumed instead.
 *
 * @param code stable, for programs, such as {@code wsdl.address.missing}
 * @param section the clause of the standard concerned, such as {@code WSDL 1.1 §3.8}; may be null
 * @param assumed what the reader did instead; null when nothing had to be assumed
 * @param affectsMessages whether messages built from the contract may differ from what the service expects
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Note(
        Severity severity,
        String code,
        Place place,
        String text,
        @Nullable String section,
        @Nullable String assumed,
        boolean affectsMessages) {
    public static Note warning(String code, Place place, String text, String section, String assumed) {
        return new Note(Severity.WARNING, code, place, text, section, assumed, false);
    }

    public static Note error(String code, Place place, String text, String section) {
        return new Note(Severity.ERROR, code, place, text, section, null, true);
    }

    public static Note info(String code, Place place, String text) {
        return new Note(Severity.INFO, code, place, text, null, null, false);
    }

    public Note affectingMessages() {
        return new Note(severity, code, place, text, section, assumed, true);
    }
}
