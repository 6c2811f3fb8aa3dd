package org.wirekettle.trigger;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.FailureCode;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Reply;
import org.wirekettle.flow.Trail;
import org.wirekettle.http.Encoding;
import org.wirekettle.http.HttpPath;
import org.wirekettle.input.Input;
import org.wirekettle.input.InputReading;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Refused;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.HttpTrigger.PlaceOf;

/** A flow that is asked over HTTP: makes a record of a request, and an answer of its trail. Immutable; shareable. */
public final class HttpEndpoint implements Endpoint {
    private static final String JSON = "application/json";
    private static final String XML = "application/xml";
    private static final String FORM = "application/x-www-form-urlencoded";

    private final HttpTrigger trigger;
    private final HttpPath path;
    private final Inputs inputs;
    private final Reply.@Nullable Form reply;
    private final List<InputPlace> places;
    /** Inputs that do not come from the body. */
    private final Set<String> elsewhere = new HashSet<>();

    private final Map<String, String> byQuery = new HashMap<>();

    private HttpEndpoint(HttpTrigger trigger, Inputs inputs, Reply.Form reply) {
        this.trigger = trigger;
        this.path = HttpPath.of(trigger.path());
        this.inputs = inputs;
        this.reply = reply;
        this.places = places(trigger, path, inputs.definition());
        places.stream().filter(p -> p.in() != PlaceOf.BODY).forEach(p -> elsewhere.add(p.input()));
        places.stream().filter(p -> p.in() == PlaceOf.QUERY).forEach(p -> byQuery.put(p.name(), p.input()));
    }

    /**
     * Puts a trigger and what the flow takes and answers together.
     *
     * @param reply null for a flow that answers nothing
     * @throws Refused with what does not go together
     */
    public static HttpEndpoint of(HttpTrigger trigger, Inputs inputs, Reply.@Nullable Form reply) {
        return new HttpEndpoint(trigger.checked(), inputs, reply);
    }

    /** Of every input where it comes from, and its name there. */
    private static List<InputPlace> places(HttpTrigger trigger, HttpPath path, List<Input> inputs) {
        Map<String, InputPlace> said = new LinkedHashMap<>();
        trigger.places().forEach(p -> said.put(p.input(), p));
        List<InputPlace> out = new ArrayList<>();
        Set<String> names = new HashSet<>();
        for (Input i : inputs) {
            InputPlace own = said.remove(i.name());
            PlaceOf in = own != null ? own.in() : usual(trigger, path, i.name());
            String name = own == null || own.name() == null || own.name().isBlank() ? i.name() : own.name();
            check(path, trigger, i, in, name);
            if (in != PlaceOf.BODY
                    && !names.add(in + " " + (in == PlaceOf.HEADER ? name.toLowerCase(Locale.ROOT) : name))) {
                throw HttpTrigger.refused("places", "Two inputs come from the " + in.words() + " " + name + ".");
            }
            out.add(new InputPlace(i.name(), in, name));
        }
        if (!said.isEmpty()) {
            throw HttpTrigger.refused(
                    "places",
                    "The flow has no input " + String.join(", ", said.keySet()) + "; it has "
                            + (inputs.isEmpty()
                                    ? "none"
                                    : inputs.stream().map(Input::name).collect(Collectors.joining(", ")))
                            + ".");
        }
        for (String name : path.names()) {
            if (out.stream().noneMatch(p -> p.in() == PlaceOf.PATH && p.name().equals(name))) {
                throw HttpTrigger.refused(
                        "path", "The path has {" + name + "}, which is no input of the flow that comes from it.");
            }
        }
        return List.copyOf(out);
    }

    private static PlaceOf usual(HttpTrigger trigger, HttpPath path, String input) {
        boolean hasBody = !trigger.method().equals("GET") && !trigger.method().equals("DELETE");
        return path.names().contains(input) ? PlaceOf.PATH : hasBody ? PlaceOf.BODY : PlaceOf.QUERY;
    }

    private static void check(HttpPath path, HttpTrigger trigger, Input i, PlaceOf in, String name) {
        if (in == PlaceOf.PATH && !path.names().contains(name)) {
            throw HttpTrigger.refused(
                    "path", "The input " + i.name() + " comes from the path, which has no {" + name + "}.");
        }
        if (in == PlaceOf.PATH && Boolean.TRUE.equals(i.many())) {
            throw HttpTrigger.refused("places", "The input " + i.name() + " is a list, which no part of a path is.");
        }
        if (in == PlaceOf.BODY && trigger.method().equals("GET")) {
            throw HttpTrigger.refused("places", "A GET has no body for the input " + i.name() + " to come from.");
        }
    }

    public HttpTrigger trigger() {
        return trigger;
    }

    public HttpPath path() {
        return path;
    }

    public Inputs inputs() {
        return inputs;
    }

    public Reply.@Nullable Form reply() {
        return reply;
    }

    /** Of every input where it comes from. */
    public List<InputPlace> places() {
        return places;
    }

    boolean hasBody() {
        return places.stream().anyMatch(p -> p.in() == PlaceOf.BODY);
    }

    @Override
    public Read read(HttpAsked asked, Instant now) {
        InputReading reading = inputs.reading();
        for (InputPlace p : places) {
            switch (p.in()) {
                case PATH ->
                    reading.texts(
                            p.input(),
                            "path " + p.name(),
                            List.of(asked.values().get(p.name())));
                case HEADER -> {
                    List<String> given = asked.headers().apply(p.name());
                    if (!given.isEmpty()) {
                        reading.texts(p.input(), "header " + p.name(), given);
                    }
                }
                default -> {
                    // read together
                }
            }
        }
        query(asked.query(), reading);
        HttpAnswer refused = body(asked, reading);
        if (refused != null) {
            return new Read(null, refused);
        }
        InputReading.Result result = reading.finish(now, now.toEpochMilli());
        if (result.problems().isEmpty()) {
            return new Read(result.record(), null);
        }
        return new Read(null, HttpAnswer.problem(HttpAnswer.Body.unfit(result.problems())));
    }

    private void query(String query, InputReading reading) {
        Map<String, List<String>> given = new LinkedHashMap<>();
        if (query != null && !query.isEmpty() && !pairs(query, given)) {
            reading.problem("query", "is not percent-encoded");
            return;
        }
        given.forEach((name, values) -> {
            String input = byQuery.get(name);
            if (input == null) {
                reading.problem(
                        "query " + name,
                        "is not known here"
                                + (byQuery.isEmpty()
                                        ? ""
                                        : "; there are "
                                                + byQuery.keySet().stream()
                                                        .sorted()
                                                        .collect(Collectors.joining(", "))));
            } else {
                reading.texts(input, "query " + name, values);
            }
        });
    }

    /** Names and values as forms have them. @return whether all was encoded as it should be */
    private static boolean pairs(String text, Map<String, List<String>> into) {
        try {
            for (String pair : text.split("&")) {
                int eq = pair.indexOf('=');
                String name = Encoding.plain(eq < 0 ? pair : pair.substring(0, eq), true);
                if (!pair.isEmpty()) {
                    into.computeIfAbsent(name, n -> new ArrayList<>(1))
                            .add(eq < 0 ? "" : Encoding.plain(pair.substring(eq + 1), true));
                }
            }
            return true;
        } catch (IllegalArgumentException e) {
            return false;
        }
    }

    /** @return null when it is read; otherwise why it cannot be */
    private HttpAnswer body(HttpAsked asked, InputReading reading) {
        if (!hasBody()) {
            return null;
        }
        String type = asked.header("Content-Type");
        String plain =
                type == null ? JSON : type.replaceFirst(";.*", "").strip().toLowerCase(Locale.ROOT);
        if (plain.equals(JSON) || plain.endsWith("+json")) {
            reading.json(asked.body(), elsewhere);
            return null;
        }
        if (plain.equals(FORM)) {
            form(new String(asked.body(), StandardCharsets.UTF_8), reading);
            return null;
        }
        if (plain.equals(XML) || plain.equals("text/xml") || plain.endsWith("+xml")) {
            reading.xml(asked.body(), elsewhere);
            return null;
        }
        return HttpAnswer.problem(
                415,
                "Content not known",
                "request.type",
                "The body is " + plain + "; it may be " + JSON + ", " + FORM + " or " + XML + ".");
    }

    private void form(String text, InputReading reading) {
        Map<String, List<String>> given = new LinkedHashMap<>();
        if (!text.isEmpty() && !pairs(text, given)) {
            reading.problem("body", "is not percent-encoded");
            return;
        }
        Set<String> names = inputs.definition().stream()
                .map(Input::name)
                .filter(n -> !elsewhere.contains(n))
                .collect(Collectors.toSet());
        given.forEach((name, values) -> {
            if (names.contains(name)) {
                reading.texts(name, "body " + name, values);
            } else {
                reading.problem("body " + name, "is not known here");
            }
        });
    }

    @Override
    public HttpAnswer answer(HttpAsked asked, Trail trail, long run) {
        return trail.fate() == Fate.DONE ? replied(trail.reply(), asked.header("Accept")) : failed(trail, run);
    }

    @Override
    public HttpAnswer problem(HttpAsked asked, HttpAnswer.Body problem) {
        return HttpAnswer.problem(problem);
    }

    @Override
    public String content(HttpAsked asked) {
        StringBuilder out = new StringBuilder();
        out.append(asked.path()).append('\n').append(asked.query()).append('\n');
        places.stream().filter(p -> p.in() == PlaceOf.HEADER).forEach(p -> out.append(p.name())
                .append('=')
                .append(asked.headers().apply(p.name()))
                .append('\n'));
        return out.append(Base64.getEncoder().encodeToString(asked.body())).toString();
    }

    private static HttpAnswer replied(Reply reply, String accept) {
        if (reply == null) {
            return HttpAnswer.empty();
        }
        return wantsXml(accept)
                ? new HttpAnswer(200, XML, ReplyText.xml(reply))
                : new HttpAnswer(200, JSON, ReplyText.json(reply));
    }

    /** Whether XML stands before JSON, or alone. */
    private static boolean wantsXml(String accept) {
        if (accept == null) {
            return false;
        }
        String a = accept.toLowerCase(Locale.ROOT);
        int xml = a.contains(XML) ? a.indexOf(XML) : a.indexOf("text/xml");
        int json = a.indexOf(JSON);
        // A browser's own list has HTML first, and means a page.
        return xml >= 0 && (json < 0 || xml < json) && !a.contains("text/html");
    }

    private HttpAnswer failed(Trail trail, long run) {
        return HttpAnswer.problem(HttpAnswer.Body.failed(trail, status(trail), run));
    }

    /** By the trigger's own rules first. */
    private int status(Trail trail) {
        String code = trail.code() == null ? "" : trail.code();
        Optional<Integer> said = trigger.replies().stream()
                .filter(r -> FailureCode.isAmong(r.codes(), code))
                .map(HttpTrigger.ReplyRule::status)
                .findFirst();
        return said.orElseGet(() -> usual(code, trail.fate()));
    }

    /** What is answered to a failure where nothing else is said (RFC 9110 §15.5, §15.6). */
    public static int usual(String code, Fate fate) {
        Optional<FailureCode> known = FailureCode.of(code);
        if (known.isPresent()) {
            FailureCode group = known.get().group().orElse(known.get());
            return group == FailureCode.UNREACHABLE ? 503 : group == FailureCode.NO_ANSWER ? 504 : 502;
        }
        return fate == Fate.IN_DOUBT ? 504 : code.equals("internal") ? 500 : 422;
    }
}
