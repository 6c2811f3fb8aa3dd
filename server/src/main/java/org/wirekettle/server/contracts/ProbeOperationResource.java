package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.Clock;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.connections.SharedLimits;

/** The last stage of a probe, if somebody wants it: one operation that does no harm, with values that are kept. */
@Path("/api")
public class ProbeOperationResource {
    private final Contracts contracts;
    private final Connections connections;
    private final TestValueMapper values;
    private final ServiceSessions sessions;
    private final SharedLimits limits;
    private final ErrorRules errors;
    private final Expressions expressions;
    private final HostPolicy policy;
    private final Json json;
    private final Clock clock;
    private final Caller caller;

    ProbeOperationResource(
            Contracts contracts,
            Connections connections,
            TestValueMapper values,
            ServiceSessions sessions,
            SharedLimits limits,
            ErrorRules errors,
            Expressions expressions,
            HostPolicy policy,
            Json json,
            Clock clock,
            Caller caller) {
        this.contracts = contracts;
        this.connections = connections;
        this.values = values;
        this.sessions = sessions;
        this.limits = limits;
        this.errors = errors;
        this.expressions = expressions;
        this.policy = policy;
        this.json = json;
        this.clock = clock;
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
        try (HttpCaller http =
                new HttpCaller(connections.http(name, in.environment()).withParallel(1), policy)) {
            OperationCaller.Result r = OperationCaller.of(port, o, http, clock, errors.of(contract, operation))
                    .call(
                            sessions.of(name, in.environment()),
                            json.read(set.rules, Mapping.class).rules(),
                            expressions,
                            Scope.of(new Node("", "record")),
                            limits.of(name, in.environment()));
            return told(r);
        } catch (ServiceSession.NoSession e) {
            throw Wrong.input("probe.session", e.getMessage() + ".");
        } catch (IllegalArgumentException e) {
            throw Wrong.input("probe.address", e.getMessage());
        }
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
