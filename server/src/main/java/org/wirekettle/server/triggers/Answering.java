package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.run.Handed;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.triggers.Live.State;
import org.wirekettle.server.triggers.Traffic.Kind;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;

/** Answers one request: who may ask, whether it was asked before, what the flow says. */
@ApplicationScoped
public class Answering {
    private static final String RETRY_AFTER = "Retry-After";
    private static final int MAX_KEY = 200;
    private static final long MAX_WAIT_MILLIS = 30_000;
    private static final long LOOK_MILLIS = 100;
    private static final int LOOKS_AFTER_END = 20;

    private final Keys keys;
    private final Traffic traffic;
    private final RequestMapper requests;
    private final Endpoints endpoints;
    private final Runs runs;
    private final Clock clock;

    Answering(Keys keys, Traffic traffic, RequestMapper requests, Endpoints endpoints, Runs runs, Clock clock) {
        this.runs = runs;
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
     * @param kind what it counts as
     */
    record Answered(
            HttpAnswer answer,
            Map<String, String> headers,
            @Nullable Node record,
            @Nullable Long run,
            @Nullable Long number,
            Kind kind) {
        /** It was asked for what is not done, and nothing was. */
        private static Answered refused(HttpAnswer answer, Map<String, String> headers) {
            return new Answered(answer, headers, null, null, null, Kind.REFUSED);
        }
    }

    /**
     * Answers it.
     *
     * @param key what it was asked with; null for none
     * @param problem what is answered where no flow does
     */
    Answered answer(
            Live live,
            HttpAsked asked,
            String key,
            Function<HttpAnswer.Body, HttpAnswer> problem,
            BooleanSupplier hasGone) {
        long begun = System.nanoTime();
        boolean isOpen = live.web().open();
        Keys.Verdict who = isOpen && key == null ? Keys.Verdict.of(Keys.ANYBODY) : keys.check(key, live.row().name);
        Answered out = who.status() == 0
                ? asked(new Question(live, asked, problem, hasGone), who.caller())
                : refused(who, problem);
        note(live, who.caller(), out, begun);
        return out;
    }

    /** Likewise for somebody who is logged in and tries it. */
    Answered trying(Live live, HttpAsked asked, String account) {
        Function<HttpAnswer.Body, HttpAnswer> problem = body -> live.endpoint() == null
                ? HttpAnswer.problem(body)
                : live.endpoint().problem(asked, body);
        return of(new Question(live, asked, problem, () -> false), account, account + ", trying it");
    }

    /** Likewise for somebody who is logged in and may ask it, and may come back for the answer. */
    Answered by(Live live, HttpAsked asked, Function<HttpAnswer.Body, HttpAnswer> problem, String account) {
        return of(new Question(live, asked, problem, () -> false), account, account);
    }

    private Answered of(Question q, String account, String named) {
        long begun = System.nanoTime();
        Answered out = asked(q, account);
        note(q.live, named, out, begun);
        return out;
    }

    /**
     * What came of a request that was made before, also while it is paused or starting; waits while it is worked on.
     * Whoever asks for that makes no further request, and it is not counted as one.
     *
     * @return empty when there was none
     */
    Optional<Answered> again(
            Live live, HttpAsked asked, Function<HttpAnswer.Body, HttpAnswer> problem, String caller, String content) {
        String idempotency = asked.idempotencyKey().orElseThrow();
        if (requests.get(live.row().id, caller, idempotency) == null) {
            return Optional.empty();
        }
        RequestMapper.Row row = new RequestMapper.Row();
        row.trigger = live.row().id;
        row.caller = caller;
        row.key = idempotency;
        row.digest = Keys.digest(content);
        return Optional.of(before(new Question(live, asked, problem, () -> false), row));
    }

    /** What was answered to a request of some time ago; empty when it is not kept, or not there yet. */
    Optional<HttpAnswer> kept(Live live, String caller, String idempotency) {
        RequestMapper.Row row = requests.get(live.row().id, caller, idempotency.replace('\0', ' '));
        return row == null || row.status == null || row.body == null
                ? Optional.empty()
                : Optional.of(new HttpAnswer(row.status, row.type, row.body));
    }

    private void note(Live live, String caller, Answered out, long begun) {
        traffic.note(
                live.row().id,
                caller,
                out.answer.status(),
                out.kind,
                TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - begun));
    }

    /** What is asked, and of whom. @param hasGone whether whoever asks waits no more */
    private record Question(
            Live live, HttpAsked asked, Function<HttpAnswer.Body, HttpAnswer> problem, BooleanSupplier hasGone) {
        private Answered later(String code, String why, long seconds) {
            return new Answered(
                    problem.apply(HttpAnswer.Body.of(503, "Not now", code, why)),
                    Map.of(RETRY_AFTER, String.valueOf(seconds)),
                    null,
                    null,
                    null,
                    Kind.FAILED);
        }

        private Answered refused(int status, String title, String code, String why) {
            return Answered.refused(problem.apply(HttpAnswer.Body.of(status, title, code, why)), Map.of());
        }

        private Question of(Live now) {
            return new Question(now, asked, problem, hasGone);
        }
    }

    private static Answered refused(Keys.Verdict v, Function<HttpAnswer.Body, HttpAnswer> problem) {
        Map<String, String> headers = new HashMap<>();
        if (v.status() == 401) {
            headers.put("WWW-Authenticate", "Bearer");
        }
        if (v.waitSeconds() > 0) {
            headers.put(RETRY_AFTER, String.valueOf(v.waitSeconds()));
        }
        String title = v.status() == 429 ? "Too many calls" : "Not allowed";
        String code = v.status() == 429 ? "key.limit" : "key";
        return Answered.refused(problem.apply(HttpAnswer.Body.of(v.status(), title, code, v.why())), headers);
    }

    private Answered asked(Question q, String caller) {
        switch (q.live.state()) {
            case PAUSED -> {
                return q.later("endpoint.paused", "This is paused.", 60);
            }
            case STARTING -> {
                return q.later("endpoint.starting", "This is starting.", 1);
            }
            case FAILED -> {
                return q.later("endpoint.failed", "This does not work at the moment.", 60);
            }
            default -> {
                // it is asked
            }
        }
        Optional<String> idempotency = q.asked.idempotencyKey();
        if (idempotency.isEmpty()) {
            return flow(q);
        }
        if (idempotency.get().isBlank() || idempotency.get().length() > MAX_KEY) {
            return q.refused(
                    400,
                    "Malformed request",
                    "request.idempotency",
                    "An Idempotency-Key has 1 to " + MAX_KEY + " characters.");
        }
        return once(q, caller, idempotency.get());
    }

    /** Of requests with the same key one is worked on; the others get its answer. */
    private Answered once(Question q, String caller, String idempotency) {
        RequestMapper.Row row = new RequestMapper.Row();
        row.trigger = q.live.row().id;
        row.caller = caller;
        row.key = idempotency.replace('\0', ' ');
        row.digest = Keys.digest(q.live.endpoint().content(q.asked));
        row.run = q.live.standing().run();
        if (requests.claim(row) == 0) {
            return before(q, row);
        }
        Answered out = null;
        try {
            out = flow(q);
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

    private Answered before(Question q, RequestMapper.Row asked) {
        Instant until = clock.instant().plus(Duration.ofMillis(MAX_WAIT_MILLIS));
        int looksSinceEnd = 0;
        while (true) {
            RequestMapper.Row there = requests.get(asked.trigger, asked.caller, asked.key);
            if (there == null) {
                return q.later("request.again", "The same request was just refused; make it again.", 1);
            }
            if (!MessageDigest.isEqual(there.digest, asked.digest)) {
                return q.refused(
                        422,
                        "Another request",
                        "request.idempotency",
                        "This Idempotency-Key was used for another request.");
            }
            if (there.status != null) {
                return new Answered(
                        new HttpAnswer(there.status, there.type, there.body == null ? new byte[0] : there.body),
                        Map.of(),
                        null,
                        there.run,
                        null,
                        there.status < 400 ? Kind.GOOD : Kind.FAILED);
            }
            // The last answers of a run are written down just after its end.
            looksSinceEnd += runs.isOpen(there.run) ? 0 : 1;
            if (looksSinceEnd > LOOKS_AFTER_END) {
                return q.refused(
                        504,
                        "What came of it is not known",
                        "request.lost",
                        "The server ended while the same request was worked on: run " + there.run
                                + " knows what came of it.");
            }
            if (clock.instant().isAfter(until) || !pause()) {
                return q.refused(
                        409,
                        "Under way",
                        "request.underway",
                        "The same request is being worked on; run " + there.run + " knows more.");
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

    private Answered flow(Question q) {
        Live live = q.live;
        Endpoint endpoint = live.endpoint();
        Endpoint.Read read = endpoint.read(q.asked, clock.instant());
        if (read.refused() != null) {
            return Answered.refused(read.refused(), Map.of());
        }
        long run = live.standing().run();
        try {
            Optional<Trail> trail = live.standing().answer(Handed.of(read.record(), q.hasGone));
            Live now = endpoints.of(live.row().id).orElse(live);
            if (trail.isEmpty() && now.standing() != live.standing() && now.state() == State.READY) {
                return flow(q.of(now));
            }
            if (trail.isEmpty()) {
                return q.later("endpoint.busy", "There is too much to do, or this is being changed.", 1);
            }
            HttpAnswer answer = endpoint.answer(q.asked, trail.get(), run);
            return new Answered(
                    answer,
                    Map.of(),
                    read.record(),
                    run,
                    trail.get().number(),
                    answer.status() < 400 ? Kind.GOOD : Kind.FAILED);
        } catch (IOException e) {
            HttpAnswer.Body broken = HttpAnswer.Body.of(
                    500,
                    "Failed",
                    "endpoint.broken",
                    "It broke while it was worked on. Run " + run + " knows what came of it.");
            return new Answered(q.problem.apply(broken.in(run)), Map.of(), read.record(), run, null, Kind.FAILED);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            // It may have been worked on: with its run, the same request is not worked on again.
            HttpAnswer.Body ends = HttpAnswer.Body.of(503, "Not now", "endpoint.ends", "The server is going down.");
            return new Answered(
                    q.problem.apply(ends.in(run)), Map.of(RETRY_AFTER, "5"), read.record(), run, null, Kind.FAILED);
        }
    }
}
