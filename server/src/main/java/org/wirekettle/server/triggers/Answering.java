package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.server.triggers.Endpoints.Live;
import org.wirekettle.server.triggers.Endpoints.State;
import org.wirekettle.server.triggers.Traffic.Kind;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.HttpTrigger;

/** Answers one request: who may ask, whether it was asked before, what the flow says. */
@ApplicationScoped
public class Answering {
    private static final String RETRY_AFTER = "Retry-After";
    private static final int MAX_KEY = 200;
    private static final long MAX_WAIT_MILLIS = 30_000;
    private static final long LOOK_MILLIS = 100;

    private final Keys keys;
    private final Traffic traffic;
    private final RequestMapper requests;
    private final Endpoints endpoints;
    private final Clock clock;

    Answering(Keys keys, Traffic traffic, RequestMapper requests, Endpoints endpoints, Clock clock) {
        this.endpoints = endpoints;
        this.keys = keys;
        this.traffic = traffic;
        this.requests = requests;
        this.clock = clock;
    }

    /**
     * What came of a request.
     *
     * @param record what the flow got; null when it got nothing
     * @param run where its trail is; null for none
     */
    record Answered(
            HttpAnswer answer,
            Map<String, String> headers,
            @Nullable Node record,
            @Nullable Long run,
            @Nullable Long number) {
        private static Answered of(HttpAnswer answer) {
            return new Answered(answer, Map.of(), null, null, null);
        }

        private static Answered later(String code, String why, long seconds) {
            return new Answered(
                    HttpAnswer.problem(503, "Not now", code, why),
                    Map.of(RETRY_AFTER, String.valueOf(seconds)),
                    null,
                    null,
                    null);
        }
    }

    Answered answer(
            Live live,
            Map<String, String> values,
            HttpAsked asked,
            String key,
            String accept,
            BooleanSupplier hasGone) {
        long begun = System.nanoTime();
        boolean isOpen = live.trigger().open();
        Keys.Verdict who = isOpen && key == null ? Keys.Verdict.of("anybody") : keys.check(key, live.row().name);
        Answered out = who.status() == 0 ? asked(live, values, asked, who.caller(), accept, hasGone) : refused(who);
        note(live, who.caller(), out, begun);
        return out;
    }

    /** Likewise for somebody who is logged in and tries it. */
    Answered trying(Live live, Map<String, String> values, HttpAsked asked, String account) {
        long begun = System.nanoTime();
        Answered out = asked(live, values, asked, account, null, () -> false);
        note(live, account + ", trying it", out, begun);
        return out;
    }

    private void note(Live live, String caller, Answered out, long begun) {
        Kind kind = out.answer.status() < 400
                ? Kind.GOOD
                : out.run == null && out.answer.status() < 500 ? Kind.REFUSED : Kind.FAILED;
        traffic.note(
                live.row().id,
                caller,
                out.answer.status(),
                kind,
                TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - begun));
    }

    private static Answered refused(Keys.Verdict v) {
        Map<String, String> headers = new HashMap<>();
        if (v.status() == 401) {
            headers.put("WWW-Authenticate", "Bearer");
        }
        if (v.waitSeconds() > 0) {
            headers.put(RETRY_AFTER, String.valueOf(v.waitSeconds()));
        }
        String title = v.status() == 429 ? "Too many calls" : "Not allowed";
        String code = v.status() == 429 ? "key.limit" : "key";
        return new Answered(HttpAnswer.problem(v.status(), title, code, v.why()), headers, null, null, null);
    }

    private Answered asked(
            Live live,
            Map<String, String> values,
            HttpAsked asked,
            String caller,
            String accept,
            BooleanSupplier hasGone) {
        if (live.state() == State.PAUSED) {
            return Answered.later("endpoint.paused", "This is paused.", 60);
        }
        if (live.state() == State.STARTING) {
            return Answered.later("endpoint.starting", "This is starting.", 1);
        }
        if (live.state() == State.FAILED) {
            return Answered.later("endpoint.failed", "This does not work at the moment.", 60);
        }
        String idempotency = live.trigger().method().equals("GET")
                ? null
                : asked.headers().apply("Idempotency-Key").stream().findFirst().orElse(null);
        if (idempotency == null) {
            return flow(live, values, asked, accept, hasGone);
        }
        if (idempotency.isBlank() || idempotency.length() > MAX_KEY) {
            return Answered.of(HttpAnswer.problem(
                    400,
                    "Malformed request",
                    "request.idempotency",
                    "An Idempotency-Key has 1 to " + MAX_KEY + " characters."));
        }
        return once(live, values, asked, caller, idempotency, accept, hasGone);
    }

    /** Of requests with the same key one is worked on; the others get its answer. */
    private Answered once(
            Live live,
            Map<String, String> values,
            HttpAsked asked,
            String caller,
            String idempotency,
            String accept,
            BooleanSupplier hasGone) {
        RequestMapper.Row row = new RequestMapper.Row();
        row.trigger = live.row().id;
        row.caller = caller;
        row.key = idempotency.replace('\0', ' ');
        row.digest = Keys.digest(content(live.endpoint(), asked));
        row.run = live.standing().run();
        if (requests.claim(row) == 0) {
            return before(row);
        }
        Answered out = null;
        try {
            out = flow(live, values, asked, accept, hasGone);
            return out;
        } finally {
            if (out != null && out.run == null) {
                // No record was made of it: nothing has happened that must not happen twice.
                requests.release(row);
            } else if (out != null) {
                row.status = out.answer.status();
                row.type = out.answer.type();
                row.body = out.answer.body();
                requests.answered(row);
            }
        }
    }

    /** All that inputs come from: two requests of which that is the same are the same. */
    private static String content(HttpEndpoint endpoint, HttpAsked asked) {
        StringBuilder out = new StringBuilder();
        out.append(asked.path()).append('\n').append(asked.query()).append('\n');
        endpoint.places().stream()
                .filter(p -> p.in() == HttpTrigger.PlaceOf.HEADER)
                .forEach(p -> out.append(p.name())
                        .append('=')
                        .append(asked.headers().apply(p.name()))
                        .append('\n'));
        return out.append(Base64.getEncoder().encodeToString(asked.body())).toString();
    }

    private Answered before(RequestMapper.Row asked) {
        Instant until = clock.instant().plus(Duration.ofMillis(MAX_WAIT_MILLIS));
        while (true) {
            RequestMapper.Row there = requests.get(asked.trigger, asked.caller, asked.key);
            if (there == null) {
                return Answered.later("request.again", "The same request was just refused; make it again.", 1);
            }
            if (!MessageDigest.isEqual(there.digest, asked.digest)) {
                return Answered.of(HttpAnswer.problem(
                        422,
                        "Another request",
                        "request.idempotency",
                        "This Idempotency-Key was used for another request."));
            }
            if (there.status != null) {
                return new Answered(
                        new HttpAnswer(there.status, there.type, there.body == null ? new byte[0] : there.body),
                        Map.of(),
                        null,
                        there.run,
                        null);
            }
            if (clock.instant().isAfter(until) || !pause()) {
                return Answered.of(HttpAnswer.problem(
                        409,
                        "Under way",
                        "request.underway",
                        "The same request is being worked on, or was when the server ended: run " + there.run
                                + " knows what came of it."));
            }
        }
    }

    private static boolean pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(LOOK_MILLIS);
            return true;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    private Answered flow(
            Live live, Map<String, String> values, HttpAsked asked, String accept, BooleanSupplier hasGone) {
        HttpEndpoint endpoint = live.endpoint();
        HttpEndpoint.Read read = endpoint.read(asked, values, clock.instant());
        if (read.refused() != null) {
            return Answered.of(read.refused());
        }
        long run = live.standing().run();
        try {
            Optional<Trail> trail = live.standing().answer(read.record(), hasGone);
            Live now = endpoints.of(live.row().id).orElse(live);
            if (trail.isEmpty() && now.standing() != live.standing() && now.state() == State.READY) {
                return flow(now, values, asked, accept, hasGone);
            }
            if (trail.isEmpty()) {
                return Answered.later("endpoint.busy", "There is too much to do, or this is being changed.", 1);
            }
            return new Answered(
                    endpoint.answer(trail.get(), accept, run),
                    Map.of(),
                    read.record(),
                    run,
                    trail.get().number());
        } catch (IOException e) {
            return new Answered(
                    HttpAnswer.problem(new HttpAnswer.Body(
                            "about:blank",
                            "Failed",
                            500,
                            "It broke while it was worked on. Run " + run + " knows what came of it.",
                            "endpoint.broken",
                            run,
                            null,
                            null)),
                    Map.of(),
                    read.record(),
                    run,
                    null);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            // It may have been worked on: with its run, the same request is not worked on again.
            return new Answered(
                    HttpAnswer.problem(503, "Not now", "endpoint.ends", "The server is going down."),
                    Map.of(RETRY_AFTER, "5"),
                    read.record(),
                    run,
                    null);
        }
    }
}
