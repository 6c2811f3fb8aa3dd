package org.wirekettle.server.runs;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.type.TypeReference;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.FlowCompiler;
import org.wirekettle.flow.Paths;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.Trail;
import org.wirekettle.flow.Work;
import org.wirekettle.run.AnsweredCall;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.Projects;
import org.wirekettle.server.flows.ServerProject;

/** Asks, by the flow that a call step names for it, whether calls that are in doubt did happen; decides nothing. */
@ApplicationScoped
public class Asking {
    static final int MAX_ASKED = 50;

    private final RunMapper rows;
    private final Passes passes;
    private final Projects projects;
    private final Json json;
    private final Expressions expressions = new Expressions();

    Asking(RunMapper rows, Passes passes, Projects projects, Json json) {
        this.rows = rows;
        this.passes = passes;
        this.projects = projects;
        this.json = json;
    }

    @PreDestroy
    void close() {
        expressions.close();
    }

    /** @param verdict {@code happened}, {@code did not happen} or {@code not known}. @param text what was found */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Finding(long number, String verdict, String text) {}

    List<Finding> ask(RunMapper.Row run, List<Long> numbers) {
        Flow definition = json.read(run.definition, Flow.class);
        Map<String, String> kept = json.read(run.kept, new TypeReference<Map<String, String>>() {});
        List<Finding> out = new ArrayList<>();
        try (ServerProject project = projects.open(run.environment, passes.pins(run), kept)) {
            CompiledFlow flow = FlowCompiler.compile(definition, project, expressions);
            for (long n : numbers) {
                RunMapper.AsideRow a = rows.aside(run.id, n);
                if (a != null && a.inDoubt) {
                    out.add(ask(flow, definition, a));
                }
            }
        }
        if (out.isEmpty()) {
            throw Wrong.input("run.ask", "None of these records is in doubt.");
        }
        return out;
    }

    private static Finding ask(CompiledFlow flow, Flow definition, RunMapper.AsideRow a) {
        Optional<Step> step = definition.step(Paths.step(a.path));
        boolean canAsk = step.isPresent() && step.get().kind() instanceof CallStep c && c.resolver() != null;
        if (!canAsk) {
            throw Wrong.input(
                    "run.ask",
                    "The step " + step.map(Step::title).orElse(a.path) + " names no flow to ask whether its call"
                            + " happened. Name one in its settings; runs that begin after that can ask.");
        }
        Instant now = flow.clock().instant();
        Trail t = flow.work(new Work(
                a.number,
                a.leg,
                a.records,
                RunRecords.record(a.record),
                new AskingCalls(a.path, AnsweredCall.read(a.answers)),
                now,
                a.number,
                flow.clock(),
                null,
                Map.of()));
        boolean isFound = a.path.equals(t.failedPath());
        return new Finding(
                a.number,
                isFound ? t.code() : "not known",
                isFound ? t.reason() : "the record does not come to its call any more: " + t.reason());
    }

    /** Uses what is known, asks about the call in doubt, and makes only the calls of the flow that is asked. */
    private record AskingCalls(String path, List<AnsweredCall> answered) implements Calls {
        @Override
        public boolean asks() {
            return true;
        }

        @Override
        public Exchange call(String at, Call call) throws Failure {
            for (AnsweredCall known : answered) {
                if (known.path().equals(at)) {
                    return call.remembered(known.exchange());
                }
            }
            if (at.equals(path)) {
                throw Failure.unknown("whether it happened is asked");
            }
            if (at.startsWith(path + "()/")) {
                return call.make();
            }
            throw Failure.of("not known", "the answer of a call before it is no longer known");
        }

        @Override
        public Exchange once(String step, Call call) {
            return call.make();
        }
    }
}
