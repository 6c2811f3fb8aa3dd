package org.wirekettle.trigger.page;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Objects;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Taken;
import org.wirekettle.problem.Refused;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.WebTrigger;

/**
 * A page on which colleagues ask a flow: its words are the owner's. Plain data; stored as it is.
 *
 * @param page its name in the address, such as {@code berth-finder}
 * @param title what it is for, as a question or a deed
 * @param text below that; null for none
 * @param owner whose page it is, at its head; null for nobody
 * @param readers whom it is for, beside that; null for nobody
 * @param deed on the button; null for a plain word
 * @param contact whom to ask; null for nobody
 * @param fields in their order on the page; inputs that are not among them come after, as they are
 * @param result what is shown of an answer; null for all of it
 * @param failures what is said of failures; the first that fits counts
 * @param open whether anybody may use it, without a link and without logging in
 * @param accounts who may use it logged in; null for all, none for those with a link only
 * @param maxBodyBytes of what is sent; null for two million
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record PageTrigger(
        String page,
        String title,
        @Nullable String text,
        @Nullable String owner,
        @Nullable String readers,
        @Nullable String deed,
        @Nullable String contact,
        @Nullable List<PageField> fields,
        @Nullable PageResult result,
        @Nullable List<PageFailure> failures,
        @Nullable Boolean open,
        @Nullable List<String> accounts,
        @Nullable Integer maxBodyBytes)
        implements WebTrigger {
    private static final int USUAL_BODY_BYTES = 2_000_000;
    private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9-]{0,59}");
    private static final int MAX_TEXT = 2_000;
    private static final int MAX_WORDS = 200;
    private static final int MOST = 500;

    public PageTrigger {
        if (hasGap(fields) || hasGap(failures) || hasGap(accounts)) {
            throw new IllegalArgumentException("something is missing in the lists of a page");
        }
        fields = fields == null ? List.of() : List.copyOf(fields);
        failures = failures == null ? List.of() : List.copyOf(failures);
        accounts = accounts == null ? null : List.copyOf(accounts);
        open = open == null ? Boolean.FALSE : open;
        maxBodyBytes = maxBodyBytes == null ? USUAL_BODY_BYTES : maxBodyBytes;
        result = result == null ? PageResult.PLAIN : result;
    }

    private static boolean hasGap(List<?> list) {
        return list != null && list.stream().anyMatch(Objects::isNull);
    }

    @Override
    public PageTrigger checked() {
        if (page == null || !NAME.matcher(page).matches()) {
            throw refused("page", "A page is called by small letters, digits and dashes, such as berth-finder.");
        }
        if (title == null || title.isBlank()) {
            throw refused("title", "Say on the page what it is for: it needs a title.");
        }
        if (maxBodyBytes < 1 || maxBodyBytes > HttpTrigger.MOST_BODY_BYTES) {
            throw refused("maxBodyBytes", "What is sent may have 1 to " + HttpTrigger.MOST_BODY_BYTES + " bytes.");
        }
        boolean hasTooMany = fields.size() > MOST
                || failures.size() > MOST
                || accounts != null && accounts.size() > MOST
                || result.notes().size() > MOST
                || result.columns().size() > MOST
                || fields.stream()
                        .anyMatch(f -> f.choices() != null && f.choices().size() > MOST);
        if (hasTooMany) {
            throw refused("lists", "Of fields, choices, notes and the like there may be " + MOST + " on a page.");
        }
        words(MAX_WORDS, Stream.of(title, owner, readers, deed, contact, result.title()));
        words(MAX_WORDS, fields.stream().flatMap(f -> Stream.of(f.label(), f.unit())));
        words(MAX_WORDS, result.columns().stream().flatMap(c -> Stream.of(c.label(), c.unit())));
        words(MAX_TEXT, Stream.of(text, result.text()));
        words(MAX_TEXT, fields.stream().flatMap(f -> Stream.of(f.help(), f.value())));
        words(MAX_TEXT, result.notes().stream().flatMap(n -> Stream.of(n.when(), n.title(), n.text())));
        words(MAX_TEXT, failures.stream().flatMap(f -> Stream.of(f.title(), f.text())));
        return this;
    }

    private static void words(int most, Stream<String> texts) {
        texts.filter(t -> t != null && t.length() > most).findFirst().ifPresent(t -> {
            throw refused(
                    "text", "“" + t.substring(0, 20) + "…” is longer than the " + most + " characters it may have.");
        });
    }

    @Override
    public String askedBy() {
        return "/pages/" + page;
    }

    @Override
    public PageEndpoint endpoint(Taken taken) {
        if (taken.operation() != null) {
            throw refused("flow", "The flow answers an operation of a contract: give it inputs of its own for a page.");
        }
        return PageEndpoint.of(checked(), taken.inputs(), taken.reply());
    }

    static Refused refused(String what, String text) {
        return new Refused("page." + what, null, text);
    }
}
