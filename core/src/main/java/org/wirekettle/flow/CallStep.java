package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.ErrorRule;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.TextTemplate;
import org.wirekettle.flow.Project.CallTarget;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.shape.Shape;

/**
 * Calls an operation; the answer is {@code $reply} afterwards, and what it is named.
 *
 * @param version the contract's version the step was made for; null for the current one
 * @param port null for the contract's first that can be called
 * @param parallel calls at a time; null for 4, or in a flow that receives for as many as the connection allows
 * @param safeToRepeat whether a call without a known answer may be sent again
 * @param takenFaults names of faults that are answers here: their detail is {@code $reply}; null for none
 * @param as a name for the answer beside {@code $reply}; null for none
 * @param once whether it is called once for all records of a run, such as for a session
 * @param failWhen a condition over the answer under which it is a failure all the same; null for none
 * @param failText then the reason; values in it stand in braces
 * @param renew when a call made once a run is made again; null for never
 * @param resolver a flow that looks up whether a call without a known answer did happen; null for none
 * @param unfit what is done with an answer that does not fit its schema: {@code noted} in the trail, or a
 *     {@code failure}; null for nothing
 * @param shared whether records of a run whose requests are equal share one answer
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record CallStep(
        @Nullable String contract,
        @Nullable Integer version,
        @Nullable String port,
        @Nullable String operation,
        @Nullable String connection,
        List<Mapping.Rule> fill,
        Integer parallel,
        Boolean safeToRepeat,
        @Nullable List<String> takenFaults,
        @Nullable String as,
        @Nullable Boolean once,
        @Nullable String failWhen,
        @Nullable String failText,
        Renewal.@Nullable RenewWhen renew,
        @Nullable String resolver,
        @Nullable Boolean shared,
        @Nullable String unfit)
        implements StepKind {
    private static final int DEFAULT_PARALLEL = 4;
    private static final int AS_MANY_AS_ASKED = 256;
    static final String REPLY = "reply";
    private static final String NOTED = "noted";
    static final String FAILURE = "failure";

    public CallStep(
            String contract,
            Integer version,
            String port,
            String operation,
            String connection,
            List<Mapping.Rule> fill,
            Integer parallel,
            Boolean safeToRepeat,
            List<String> takenFaults,
            String as,
            Boolean once,
            String failWhen,
            String failText) {
        this(
                contract,
                version,
                port,
                operation,
                connection,
                fill,
                parallel,
                safeToRepeat,
                takenFaults,
                as,
                once,
                failWhen,
                failText,
                null,
                null,
                null,
                null);
    }

    /** One with what every call has. */
    public static CallStep of(
            String contract,
            Integer version,
            String port,
            String operation,
            String connection,
            List<Mapping.Rule> fill) {
        return new CallStep(
                contract, version, port, operation, connection, fill, null, null, null, null, null, null, null);
    }

    @Override
    public String title() {
        return operation == null ? "choose an operation" : contract + " · " + operation;
    }

    @Override
    public List<Ref> named() {
        List<Ref> out = new ArrayList<>(List.of(
                new Ref(Ref.What.CONTRACT, contract),
                new Ref(Ref.What.CONNECTION, connection),
                new Ref(Ref.What.FLOW, resolver)));
        out.addAll(Ref.ofLists(fill));
        return out;
    }

    @Override
    public Optional<FillDesign> filling(Flow flow, Project project, Expressions expressions) {
        return Optional.of(CallDesign.of(this, project, expressions).fill());
    }

    @Override
    public boolean isOnceARun() {
        return Boolean.TRUE.equals(once);
    }

    boolean isShared() {
        return Boolean.TRUE.equals(shared) && !isOnceARun();
    }

    /** The same step made for another version of its contract. */
    public CallStep withVersion(Integer of) {
        return with(of, fill);
    }

    public CallStep withFill(List<Mapping.Rule> rules) {
        return with(version, rules);
    }

    private CallStep with(Integer of, List<Mapping.Rule> rules) {
        return new CallStep(
                contract,
                of,
                port,
                operation,
                connection,
                rules,
                parallel,
                safeToRepeat,
                takenFaults,
                as,
                once,
                failWhen,
                failText,
                renew,
                resolver,
                shared,
                unfit);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        if (isShared() && !Boolean.TRUE.equals(safeToRepeat)) {
            c.problem("Equal requests share one answer: the service gets fewer than there are records. That is right"
                    + " only for an operation that is safe to repeat; mark it so, or send each.");
        }
        Runner out = judged(c);
        c.isOnceARun(REPLY, isOnceARun());
        if (as != null && !as.isBlank()) {
            c.isOnceARun(as, isOnceARun());
        }
        if (isOnceARun()) {
            if (renew != null && !renew.codes().isEmpty()) {
                c.renews(renew, out);
            }
            return out;
        }
        List<Renewal> renewals = c.renewals();
        return renewals.isEmpty() ? out : frame -> Renewal.run(frame, out, renewals);
    }

    private Runner judged(FlowCompiler c) {
        Runner out = connected(c).orElse(Runner.NONE);
        c.names(REPLY, null);
        if (as != null && !as.isBlank()) {
            c.names(as, null);
        }
        Optional<Expression> isFailure = c.optional(failWhen, "failWhen");
        if (isFailure.isEmpty()) {
            return out;
        }
        String reason = failText == null || failText.isBlank() ? "the answer says that it failed" : failText;
        TextTemplate text = StepText.compile(reason, "failText", c);
        String code = StepText.code(reason);
        return frame -> {
            out.run(frame);
            if (frame.test(isFailure.get(), "the condition of a failure")) {
                frame.keep(frame.key(), false);
                throw Failure.answered(code, text.text(frame.scope()), null);
            }
        };
    }

    private Optional<Runner> connected(FlowCompiler c) {
        Optional<Contract> found =
                contract == null ? Optional.empty() : c.project().contract(contract, version);
        if (found.isEmpty()) {
            c.problem(
                    contract == null
                            ? "Choose the operation to call."
                            : "There is no contract named " + contract
                                    + (version == null ? "." : " with a version " + version + "."));
            return Optional.empty();
        }
        Optional<Port> at = found.get().port(port);
        Optional<Operation> called = at.flatMap(p -> p.operation(operation));
        if (called.isEmpty()) {
            c.problem(
                    operation == null
                            ? "Choose the operation to call."
                            : "The contract " + contract + " has no operation " + operation + ".");
            return Optional.empty();
        }
        if (!called.get().isUsable()) {
            c.problem("The operation " + operation + " cannot be called: "
                    + called.get().unusable());
            return Optional.empty();
        }
        // Those who ask wait; how many there are at a time is for the connection to say.
        int usual = c.isAsked() ? AS_MANY_AS_ASKED : DEFAULT_PARALLEL;
        int wanted = parallel == null ? usual : parallel;
        Optional<CallTarget> target =
                connection == null ? Optional.empty() : c.project().connection(connection, wanted);
        if (target.isEmpty()) {
            c.problem(
                    connection == null
                            ? "Choose the connection to call over."
                            : "There is no connection named " + connection + ".");
            return Optional.empty();
        }
        ConnectionHeaders given = target.get().headers();
        Shape request = called.get().request().root();
        ConnectionHeaders.Filling filling = given.filling(new Mapping(fill).rules(), request, c.expressions());
        Fill compiled = filling.fill();
        compiled.problems().forEach(c::problem);
        int atATime = Math.min(wanted, target.get().parallel());
        if (!isOnceARun()) {
            c.calls(atATime);
        }
        OperationCaller caller = OperationCaller.of(
                at.get(), called.get(), target.get().http(), c.project().clock(), errorRule(c));
        c.calls(caller);
        Fill whole = caller.whole(compiled);
        caller.hiding(compiled.secrets());
        caller.knowsFiles(compiled.hasFiles());
        if (compiled.hasFiles() && !caller.takesFiles()) {
            c.problem("Files go with SOAP operations only; " + operation + " is a plain HTTP one.");
        }
        if (unfit != null && !unfit.equals(NOTED) && !unfit.equals(FAILURE)) {
            c.problem("An answer that does not fit its schema is noted, or a failure, not “" + unfit + "”.");
        }
        return Optional.of(new CallRunner(
                this,
                MessageForm.of(found.get(), at.get(), called.get()),
                whole,
                filling.known() == compiled ? whole : filling.known(),
                given,
                filling.session(),
                caller,
                target.get().retry().repeating(Boolean.TRUE.equals(safeToRepeat)),
                target.get().limits(),
                new Semaphore(Math.max(1, atATime), true),
                isOnceARun() ? null : Resolver.compile(resolver, c).orElse(null),
                hidden(c, filling.session()),
                c.namesOfCall(CallFacts.NAME, CallFacts.FIELDS),
                c.namesOfCall(RawAnswer.NAME, RawAnswer.FIELDS),
                c.counter()));
    }

    private @Nullable ErrorRule errorRule(FlowCompiler c) {
        Optional<ErrorRule.Texts> texts = c.project().errorRule(contract, operation);
        if (texts.isEmpty()) {
            return null;
        }
        try {
            return new ErrorRule(texts.get(), c.expressions().elsewhere().alsoKnowing(REPLY));
        } catch (ExpressionFault e) {
            c.problem("The rule by which " + operation + " speaks of failures: " + e.getMessage());
            return null;
        }
    }

    /** Names whose values are no part of what a call is known again by. */
    private List<String> hidden(FlowCompiler c, ServiceSession session) {
        List<String> out = new ArrayList<>(
                c.onceARunIn(fill.stream().map(Mapping.Rule::computed).toList()));
        if (session != null) {
            out.add(ServiceSession.VARIABLE);
        }
        return out;
    }

    /** Whether an answer may be picked from in this step, though it may be a fault. */
    public boolean takes(OperationCaller.Result result) {
        return result.failure() == null || takenFaults != null && isTaken(result, takenFaults);
    }

    private static boolean isTaken(OperationCaller.Result result, List<String> faults) {
        return result.answer() != null
                && result.answer().fault() != null
                && (faults.contains(result.answer().fault().name())
                        || FailureCode.isAmong(faults, result.failure().code()));
    }
}
