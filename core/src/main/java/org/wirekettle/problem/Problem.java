package org.wirekettle.problem;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * One thing that is wrong, wherever it is found: in a document that is read, in a rule of a mapping, in a value of a
 * record, in a step of a flow, in a request. The same from the core to the screen.
 *
 * @param code stable, for programs, such as {@code wsdl.address.missing} or {@code unfilled}
 * @param place where it is; null when the input has no places, such as one field of a form
 * @param text for people: what is wrong and, where it is not plain, what to do
 * @param section the cause: the clause of the standard that is not kept, such as {@code WSDL 1.1 §3.8}; may be null
 * @param assumed what the reader did instead; null when nothing had to be assumed
 * @param affectsMessages whether messages built all the same may differ from what the service expects
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Problem(
        Severity severity,
        String code,
        @Nullable Place place,
        String text,
        @Nullable String section,
        @Nullable String assumed,
        boolean affectsMessages) {
    public static Problem warning(String code, Place place, String text, String section, String assumed) {
        return new Problem(Severity.WARNING, code, place, text, section, assumed, false);
    }

    public static Problem error(String code, @Nullable Place place, String text, @Nullable String section) {
        return new Problem(Severity.ERROR, code, place, text, section, null, true);
    }

    public static Problem info(String code, Place place, String text) {
        return new Problem(Severity.INFO, code, place, text, null, null, false);
    }

    /**
     * A rule that cannot work, or a value that does not fit.
     *
     * @param code {@code unfilled}, {@code value}, {@code expression}, {@code row}, {@code choice}, {@code occurs},
     *     {@code secret} or {@code limit}
     */
    public static Problem ofRow(String row, String code, String text) {
        return error(code, Place.ofRow(row, null), text, null);
    }

    public Problem affectingMessages() {
        return new Problem(severity, code, place, text, section, assumed, true);
    }

    /** The same, found in a step of a flow. */
    public Problem inStep(String step) {
        Place in = place == null ? Place.ofStep(step) : place.inStep(step);
        return new Problem(severity, code, in, text, section, assumed, affectsMessages);
    }

    /** What is wrong with a rule, and with the value it gave: of each row the first thing only. */
    public static List<Problem> oncePerRow(List<Problem> compiled, List<Problem> run) {
        List<Problem> out = new ArrayList<>(compiled);
        Set<String> said = new HashSet<>();
        compiled.forEach(p -> said.add(p.row()));
        run.stream().filter(p -> said.add(p.row())).forEach(out::add);
        return out;
    }

    /** The row of a mapping that is concerned; null when it is none's. */
    @JsonIgnore
    public @Nullable String row() {
        return place == null ? null : place.row();
    }

    /** The name at the end of the row's path. */
    @JsonIgnore
    public @Nullable String rowName() {
        String row = row();
        return row == null ? null : row.substring(row.lastIndexOf('/') + 1);
    }

    /** What is said where the place is not shown beside it: the row's name before the text. */
    public String inWords() {
        return row() == null ? text : rowName() + " " + text;
    }
}
