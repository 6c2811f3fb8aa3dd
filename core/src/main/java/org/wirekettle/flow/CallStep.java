package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.RetryPolicy;
import org.wirekettle.call.SoapCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.flow.Project.CallTarget;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;

/**
 * Calls an operation for each record; the answer is {@code $reply} afterwards.
 *
 * @param version the contract's version the step was made for; null for the current one
 * @param port null for the contract's first that can be called
 * @param parallel calls at a time; null for 4
 * @param safeToRepeat whether a call without a known answer may be sent again
 * @param takenFaults names of faults that are answers here: their detail is {@code $reply}; null for none
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record CallStep(
        String id,
        @Nullable String contract,
        @Nullable Integer version,
        @Nullable String port,
        @Nullable String operation,
        @Nullable String connection,
        List<Mapping.Rule> fill,
        Integer parallel,
        Boolean safeToRepeat,
        @Nullable List<String> takenFaults)
        implements Step {
    private static final int DEFAULT_PARALLEL = 4;

    @Override
    public CallStep withId(String newId) {
        return new CallStep(
                newId, contract, version, port, operation, connection, fill, parallel, safeToRepeat, takenFaults);
    }

    @Override
    public String title() {
        return operation == null ? "choose an operation" : contract + " · " + operation;
    }

    /** The same step made for another version of its contract. */
    public CallStep withVersion(Integer of) {
        return new CallStep(id, contract, of, port, operation, connection, fill, parallel, safeToRepeat, takenFaults);
    }

    public CallStep withFill(List<Mapping.Rule> rules) {
        return new CallStep(
                id, contract, version, port, operation, connection, rules, parallel, safeToRepeat, takenFaults);
    }

    @Override
    public void compile(FlowCompiler c) {
        Optional<Contract> found =
                contract == null ? Optional.empty() : c.project().contract(contract, version);
        if (found.isEmpty()) {
            c.problem(
                    contract == null
                            ? "Choose the operation to call."
                            : "There is no contract named " + contract
                                    + (version == null ? "." : " with a version " + version + "."));
            return;
        }
        Optional<Port> at = found.get().port(port);
        Optional<Operation> called = at.flatMap(p -> p.operation(operation));
        if (called.isEmpty()) {
            c.problem(
                    operation == null
                            ? "Choose the operation to call."
                            : "The contract " + contract + " has no operation " + operation + ".");
            return;
        }
        if (!called.get().isUsable()) {
            c.problem("The operation " + operation + " cannot be called: "
                    + called.get().unusable());
            return;
        }
        Fill compiled = Fill.compile(new Mapping(fill), called.get().request().root(), c.expressions());
        compiled.problems().forEach(c::problem);
        int wanted = parallel == null ? DEFAULT_PARALLEL : parallel;
        Optional<CallTarget> target =
                connection == null ? Optional.empty() : c.project().connection(connection, wanted);
        if (target.isEmpty()) {
            c.problem(
                    connection == null
                            ? "Choose the connection to call over."
                            : "There is no connection named " + connection + ".");
            return;
        }
        c.calls(Math.min(wanted, target.get().parallel()));
        SoapCaller caller = new SoapCaller(
                at.get(), called.get(), target.get().http(), c.project().clock());
        c.calls(caller);
        c.add(new CallStage(
                c.step(),
                compiled,
                caller,
                new RetryPolicy(target.get().retries(), Boolean.TRUE.equals(safeToRepeat)),
                new Pace(target.get().callsPerSecond()),
                takenFaults == null ? Set.of() : Set.copyOf(takenFaults)));
    }

    /** Whether an answer may be picked from in this step, though it may be a fault. */
    public boolean takes(SoapCaller.Result result) {
        return result.failure() == null || takenFaults != null && isTaken(result, takenFaults);
    }

    private static boolean isTaken(SoapCaller.Result result, Collection<String> faults) {
        return result.answer() != null
                && result.answer().fault() != null
                && faults.contains(result.answer().fault().name());
    }

    /** The running side. */
    private record CallStage(int step, Fill fill, SoapCaller caller, RetryPolicy retry, Pace pace, Set<String> taken)
            implements Stage {
        @Override
        public void process(Item item, Next next) throws SetAside {
            Fill.Filled filled = fill.run(item.scope());
            if (!filled.problems().isEmpty()) {
                throw SetAside.because(filled.problems().get(0));
            }
            FilledCall call = new FilledCall(this, filled);
            SoapCaller.Result result = caller.judge(item.trail().call(step, call));
            if (result.failure() != null && !isTaken(result, taken)) {
                throw switch (result.exchange().outcome()) {
                    case IN_DOUBT -> SetAside.inDoubt(result.failure().text());
                    case UNREACHABLE -> SetAside.unreachable(result.failure().text());
                    case ANSWERED ->
                        SetAside.because(
                                result.failure().code(), result.failure().text());
                };
            }
            item.trail().accepted(call);
            next.accept(item.withReply(result.answer().payload()));
        }
    }

    /** The call of one record. */
    private record FilledCall(CallStage stage, Fill.Filled filled) implements Calls.Call {
        @Override
        public Exchange make() {
            byte[] envelope = stage.caller.envelope(filled.headers(), filled.body());
            for (int attempt = 1; ; attempt++) {
                stage.pace.await();
                Exchange x = stage.caller.send(envelope);
                Optional<Long> delay = stage.retry.again(x.outcome(), attempt);
                if (delay.isEmpty()) {
                    return x;
                }
                try {
                    Thread.sleep(delay.get());
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    return x;
                }
            }
        }

        @Override
        public Exchange remembered(Exchange kept) {
            return stage.caller.remembered(kept);
        }

        @Override
        public byte[] digest() {
            try {
                MessageDigest sha = MessageDigest.getInstance("SHA-256");
                sha.update(filled.headers().getBytes(StandardCharsets.UTF_8));
                sha.update((byte) 0);
                return sha.digest(filled.body().getBytes(StandardCharsets.UTF_8));
            } catch (NoSuchAlgorithmException e) {
                throw new IllegalStateException("every JDK has SHA-256", e);
            }
        }

        @Override
        public boolean isSafeToRepeat() {
            return stage.retry.safeToRepeat();
        }
    }
}
