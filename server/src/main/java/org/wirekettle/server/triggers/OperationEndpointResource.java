package org.wirekettle.server.triggers;

import com.fasterxml.jackson.annotation.JsonInclude;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.http.HttpPath;
import org.wirekettle.input.Input;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.Contracts;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.HttpTrigger;
import org.wirekettle.trigger.OperationFlow;

/** Has operations of a contract be asked over HTTP with JSON: a flow and an endpoint for each. */
@Path("/api/contracts/{contract}/endpoints")
@Allow(Role.BUILDER)
public class OperationEndpointResource {
    private static final int MOST = 200;
    private static final int MOST_IN_QUERY = 6;

    private final Contracts contracts;
    private final FlowMapper flows;
    private final TriggerMapper rows;
    private final Endpoints endpoints;
    private final Runs runs;
    private final Json json;
    private final Caller caller;

    OperationEndpointResource(
            Contracts contracts,
            FlowMapper flows,
            TriggerMapper rows,
            Endpoints endpoints,
            Runs runs,
            Json json,
            Caller caller) {
        this.contracts = contracts;
        this.flows = flows;
        this.rows = rows;
        this.endpoints = endpoints;
        this.runs = runs;
        this.json = json;
        this.caller = caller;
    }

    /**
     * How an operation could be asked.
     *
     * @param port of the contract; null for its first
     * @param published the name of an endpoint with that path already; null for none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OperationPath(
            @Nullable String port,
            String operation,
            String method,
            String path,
            @Nullable String published) {
        public OperationPath {
            operation = Wrong.required(operation, "an operation");
            method = Wrong.required(method, "a method");
            path = Wrong.required(path, "a path");
        }
    }

    /** @param connection over which they are called */
    public record OperationPaths(String connection, String environment, List<OperationPath> operations) {
        public OperationPaths {
            connection = Wrong.required(connection, "a connection");
            environment = Wrong.required(environment, "an environment").strip();
            operations = Wrong.required(operations, "operations");
            if (operations.isEmpty()
                    || operations.size() > MOST
                    || operations.stream().anyMatch(Objects::isNull)) {
                throw Wrong.input("endpoint.operations", "Choose 1 to " + MOST + " operations.");
            }
        }
    }

    /** The names of the endpoints that were made. */
    public record MadeEndpoints(List<String> names) {}

    /** The operations that can be called, each with a method and a path. */
    @GET
    @Allow(Role.VIEWER)
    public List<OperationPath> proposed(@PathParam("contract") String name) {
        Contract contract = contracts.get(name);
        List<OperationPath> out = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        for (Port port : contract.ports()) {
            for (Operation o : port.operations()) {
                // The same operation of several ports is one.
                if (o.isUsable() && seen.add(o.name()) && out.size() < MOST) {
                    out.add(proposed(name, port, o));
                }
            }
        }
        return out;
    }

    private OperationPath proposed(String contract, Port port, Operation o) {
        List<Input> inputs = OperationFlow.of(contract, null, port, o, "")
                .receives()
                .map(ReceiveStep::inputs)
                .orElse(List.of());
        boolean isFlat = inputs.size() <= MOST_IN_QUERY
                && inputs.stream().noneMatch(i -> Field.NESTED.equals(i.type()) || Boolean.TRUE.equals(i.many()));
        String method = isFlat && o.name().matches("(?i)(get|find|list|look|search|read|query).*") ? "GET" : "POST";
        String path = OperationFlow.path(contract) + OperationFlow.path(o.name());
        return new OperationPath(
                port.name(),
                o.name(),
                method,
                path,
                endpoints
                        .like("", method, HttpPath.of(path))
                        .map(l -> l.row().name)
                        .orElse(null));
    }

    /** One of them made. */
    private record Made(String name, Flow flow, HttpTrigger trigger) {}

    @POST
    public MadeEndpoints make(@PathParam("contract") String name, OperationPaths in) {
        Names.check(in.environment(), "trigger.environment");
        Contract contract = contracts.get(name);
        int version = contracts.currentVersion(name).orElse(1);
        List<Made> all = new ArrayList<>();
        Set<String> asked = new HashSet<>();
        for (OperationPath p : in.operations()) {
            Made m = made(name, version, contract, p, in.connection());
            if (!asked.add(m.trigger.method() + HttpPath.of(m.trigger.path()).form())) {
                throw Wrong.input("http.path", "Two of them would be asked by " + p.method() + " " + p.path() + ".");
            }
            check(m, in.environment());
            all.add(m);
        }
        caller.note("contract " + name + ", " + all.size() + " operations");
        QuarkusTransaction.requiringNew().run(() -> all.forEach(m -> keep(m, in.environment())));
        all.forEach(m -> endpoints.begin(rows.named(m.name)));
        return new MadeEndpoints(all.stream().map(Made::name).toList());
    }

    private Made made(String name, int version, Contract contract, OperationPath p, String connection) {
        Port port = contract.port(p.port()).orElseThrow(() -> Wrong.notFound("port", p.port()));
        Operation o = port.operation(p.operation()).orElseThrow(() -> Wrong.notFound("operation", p.operation()));
        if (!o.isUsable()) {
            throw Wrong.input("operation.unusable", p.operation() + " cannot be called: " + o.unusable());
        }
        HttpTrigger trigger = new HttpTrigger(
                        p.method(), p.path(), null, null, null, null, null, shortened(o.documentation()))
                .checked();
        return new Made(
                free((name + " " + o.name()).replaceAll("[/\\\\?#%\\p{Cntrl}]", "-")),
                OperationFlow.of(name, version, port, o, connection),
                trigger);
    }

    private static String shortened(String text) {
        return text == null || text.isBlank()
                ? null
                : text.strip().substring(0, Math.min(500, text.strip().length()));
    }

    /** A name that neither a flow nor a trigger has. */
    private String free(String wanted) {
        String base = wanted.length() > 70 ? wanted.substring(0, 70) : wanted;
        for (int n = 1; ; n++) {
            String name = n == 1 ? base : base + " " + n;
            if (rows.named(name) == null && flows.definitionOf(name) == null) {
                return name;
            }
        }
    }

    private void check(Made m, String environment) {
        FlowMapper.Row row = new FlowMapper.Row();
        row.name = m.name;
        row.version = 1;
        row.definition = json.write(m.flow);
        HttpEndpoint made = m.trigger.endpoint(runs.taken(row, environment));
        Optional<Live> other = endpoints.like(m.name, m.trigger.method(), made.path());
        if (other.isPresent()) {
            throw Wrong.conflict(
                    "http.path",
                    m.trigger.method() + " " + m.trigger.path() + " asks for "
                            + other.get().row().name + " already.");
        }
    }

    private void keep(Made m, String environment) {
        Long flow = flows.create(m.name, json.write(m.flow), caller.name());
        if (flow == null) {
            throw Wrong.conflict("flow.name", "There is already a flow named " + m.name + ".");
        }
        TriggerMapper.Row row = new TriggerMapper.Row();
        row.name = m.name;
        row.kind = endpoints.kind(m.trigger);
        row.flow = flow;
        row.environment = environment;
        row.settings = json.write(m.trigger);
        row.version = 1;
        row.on = true;
        row.changedBy = caller.name();
        rows.put(row);
    }
}
