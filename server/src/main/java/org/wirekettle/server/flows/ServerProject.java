package org.wirekettle.server.flows;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.call.ErrorRule;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.contract.Contract;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.Project;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.connections.SharedLimits;
import org.wirekettle.server.contracts.Contracts;
import org.wirekettle.server.contracts.ErrorRules;
import org.wirekettle.server.contracts.ServiceSessions;
import org.wirekettle.server.data.Data;

/** The project as a flow sees it in one environment. Holds the connections it opened until it is closed. */
public final class ServerProject implements Project, AutoCloseable {
    private final Contracts contracts;
    private final Connections connections;
    private final Data data;
    private final HostPolicy policy;
    private final SharedLimits limits;
    private final String environment;
    private final ServiceSessions sessions;
    private final ErrorRules errors;
    private final Pins pins;
    /** Null for a project that runs: that reads what is there. */
    private final Specimens specimens;

    private final FlowMapper flows;
    private final Json json;
    private final Map<String, String> kept;
    private final List<HttpCaller> opened = new ArrayList<>();

    ServerProject(
            Contracts contracts,
            Connections connections,
            Data data,
            HostPolicy policy,
            SharedLimits limits,
            ServiceSessions sessions,
            ErrorRules errors,
            String environment,
            Pins pins,
            Specimens specimens,
            FlowMapper flows,
            Json json,
            Map<String, String> kept) {
        this.flows = flows;
        this.json = json;
        this.kept = kept;
        this.specimens = specimens;
        this.pins = pins;
        this.contracts = contracts;
        this.connections = connections;
        this.data = data;
        this.policy = policy;
        this.limits = limits;
        this.sessions = sessions;
        this.errors = errors;
        this.environment = environment;
    }

    @Override
    public Optional<Contract> contract(String name, Integer version) {
        return contracts.find(name, version);
    }

    @Override
    public Optional<CallTarget> connection(String name, int parallel) {
        if (!connections.exists(name)) {
            return Optional.empty();
        }
        HttpSettings s = connections.http(name, environment);
        int atATime = Math.max(1, Math.min(parallel, s.limits().parallel()));
        HttpCaller http = new HttpCaller(s.withParallel(atATime), policy);
        opened.add(http);
        return Optional.of(new CallTarget(
                http,
                atATime,
                limits.of(name, environment),
                connections.retries(name, environment),
                sessions.of(name, environment)));
    }

    @Override
    public SecretValues secrets(String connection) {
        return connections.exists(connection) ? connections.secrets(connection, environment) : SecretValues.NONE;
    }

    @Override
    public Optional<ErrorRule.Texts> errorRule(String contract, String operation) {
        return errors.texts(contract, operation);
    }

    @Override
    public Optional<RecordSource> source(String name) {
        if (specimens != null) {
            return specimens.source(name, environment).map(s -> s);
        }
        return pins.source(name)
                .map(p -> data.source(p, environment))
                .or(() -> data.source(name, environment))
                .map(s -> s.knowing(variables()));
    }

    @Override
    public Optional<RecordTarget> target(String name, List<Field> fields) {
        return pins.target(name)
                .map(p -> data.target(p, environment, fields))
                .or(() -> data.target(name, environment, fields));
    }

    @Override
    public Optional<DocumentShape> shape(String name) {
        return pins.shape(name).or(() -> data.pinShape(name)).map(data::shape);
    }

    @Override
    public Optional<Flow> flow(String name) {
        return Optional.ofNullable(pins.flows().get(name))
                .or(() -> Optional.ofNullable(flows.definitionOf(name)).map(d -> json.read(d, Flow.class)));
    }

    @Override
    public Optional<SqlSource.Connections> database(String name) {
        return connections.exists(name) && connections.row(name).kind.equals("database")
                ? Optional.of(connections.database(name, environment))
                : Optional.empty();
    }

    /** {@code $run} and {@code $kept}. */
    @Override
    public Map<String, Node> variables() {
        Node run = new Node("", "run");
        run.add(Node.leaf("environment", environment == null ? "" : environment));
        Node before = new Node("", "kept");
        kept.forEach((name, value) -> before.add(Node.leaf(name, value)));
        return Map.of("run", run, "kept", before);
    }

    @Override
    public void close() {
        opened.forEach(HttpCaller::close);
    }
}
