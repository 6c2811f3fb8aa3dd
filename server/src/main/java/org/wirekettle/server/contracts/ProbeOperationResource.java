package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** The last stage of a probe, if somebody wants it: one operation that does no harm, with values that are kept. */
@Path("/api")
public class ProbeOperationResource {
    private final Contracts contracts;
    private final TestValueMapper values;
    private final CallsByHand calls;
    private final Json json;
    private final Caller caller;

    ProbeOperationResource(Contracts contracts, TestValueMapper values, CallsByHand calls, Json json, Caller caller) {
        this.contracts = contracts;
        this.values = values;
        this.calls = calls;
        this.json = json;
        this.caller = caller;
    }

    /** A set of values, and what it is for. */
    public record NamedValues(String contract, String operation, String name) {}

    /** @param values the name of the set */
    public record ProbeCall(String environment, String contract, String operation, String values) {}

    /**
     * What came of it.
     *
     * @param code of the failure; null for none
     * @param todo about it, in words; null likewise
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ProbedOperation(
            boolean isGood,
            String text,
            long micros,
            @Nullable String code,
            @Nullable String todo) {}

    /** All sets of values there are. */
    @GET
    @Path("test-values")
    public List<NamedValues> all() {
        return values.all().stream()
                .map(r -> new NamedValues(r.contract, r.operation, r.name))
                .toList();
    }

    @POST
    @Path("probe/{name}/operation")
    public ProbedOperation call(@PathParam("name") String name, ProbeCall in) {
        String contract = Wrong.required(in.contract(), "a contract");
        String operation = Wrong.required(in.operation(), "an operation");
        TestValueMapper.Row set = values.get(contract, operation, Wrong.required(in.values(), "a set of values"));
        if (set == null) {
            throw Wrong.notFound("set of values", in.values());
        }
        Contract.Port port = contracts.get(contract).ports().stream()
                .filter(p -> p.operation(operation).map(Operation::isUsable).orElse(false))
                .findFirst()
                .orElseThrow(() -> Wrong.notFound("operation", operation));
        Operation o = port.operation(operation).orElseThrow();
        caller.note(contract + ", " + operation + " with " + in.values());
        return told(calls.make(
                new CallsByHand.Called(contract, port, o),
                new CallsByHand.Way(name, in.environment(), null),
                new CallsByHand.Sent(json.read(set.rules, Mapping.class).rules(), null)));
    }

    private static ProbedOperation told(OperationCaller.Result r) {
        long micros = r.exchange().totalMicros();
        if (r.failure() == null) {
            return new ProbedOperation(
                    true, "it answers with HTTP status " + r.exchange().status(), micros, null, null);
        }
        String todo = FailureCode.of(r.failure().code()).map(FailureCode::todo).orElse(null);
        return new ProbedOperation(
                false, r.failure().text(), micros, r.failure().code(), todo);
    }
}
