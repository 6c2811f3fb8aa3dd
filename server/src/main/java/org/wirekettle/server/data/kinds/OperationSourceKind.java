package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.connector.OperationSource;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.contracts.CallsByHand;
import org.wirekettle.server.contracts.Contracts;
import org.wirekettle.server.data.Data.Asked;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.SourceKind;

/** The rows of an operation's answers, over a connection. */
@ApplicationScoped
public class OperationSourceKind implements SourceKind {
    private final Contracts contracts;
    private final Connections connections;
    private final CallsByHand calls;
    private final Expressions expressions;

    OperationSourceKind(Contracts contracts, Connections connections, CallsByHand calls, Expressions expressions) {
        this.contracts = contracts;
        this.connections = connections;
        this.calls = calls;
        this.expressions = expressions;
    }

    @Override
    public String name() {
        return "operation";
    }

    @Override
    public boolean makesCalls() {
        return true;
    }

    /** The operation and the way to it. */
    private record Called(Asked asked, Contract.Port port, Operation operation) {}

    private Called called(SourceSettings s) {
        Asked asked = s.asked();
        if (asked == null || asked.contract() == null || asked.operation() == null || s.connection() == null) {
            throw Wrong.input("source.operation", "Choose an operation and the connection to ask it over.");
        }
        Contract contract = contracts.get(asked.contract(), asked.version());
        Contract.Port port = contract.port(asked.port())
                .orElseThrow(() -> Wrong.input("source.operation", "There is no port " + asked.port() + "."));
        Operation operation = port.operation(asked.operation())
                .filter(Operation::isUsable)
                .orElseThrow(() -> Wrong.input(
                        "source.operation",
                        "The contract " + asked.contract() + " has no operation " + asked.operation()
                                + " that can be called."));
        connections.row(s.connection());
        return new Called(asked, port, operation);
    }

    @Override
    public void check(SourceSettings s) {
        Called called = called(s);
        if (called.asked.rows() == null || called.asked.rows().isBlank()) {
            throw Wrong.input("source.rows", "Say what one record is: an expression such as $reply/row.");
        }
        source(s, called, null);
        Fill fill = Fill.compile(
                new Mapping(called.asked.fill()),
                called.operation.request().root(),
                OperationSource.knowing(expressions));
        Optional<Problem> wrong =
                fill.problems().stream().filter(p -> !p.code().equals("secret")).findFirst();
        wrong.ifPresent(p -> {
            throw Wrong.input("source.fill", "The request: " + p.inWords() + ".");
        });
    }

    @Override
    public RecordSource open(SourceSettings s, String environment) {
        return source(s, called(s), environment);
    }

    private OperationSource source(SourceSettings s, Called called, String environment) {
        try {
            return new OperationSource(
                    () -> new Calls(called, s.connection(), environment),
                    called.asked.rows(),
                    called.asked.more(),
                    called.asked.known() == null ? List.of() : called.asked.known(),
                    expressions);
        } catch (ExpressionFault e) {
            throw Wrong.input("source.rows", e.getMessage());
        }
    }

    /** The calls of one reading. */
    private final class Calls implements OperationSource.Asking {
        private final Called called;
        private final CallsByHand.Line line;

        Calls(Called called, String connection, String environment) {
            this.called = called;
            this.line = calls.open(
                    new CallsByHand.Called(called.asked.contract(), called.port, called.operation),
                    new CallsByHand.Way(connection, environment, null));
        }

        @Override
        public Node ask(Scope scope) throws IOException {
            try {
                List<Mapping.Rule> rules = new Mapping(called.asked.fill()).rules();
                OperationCaller.Result r = line.call(rules, OperationSource.knowing(expressions), scope);
                if (r.failure() != null) {
                    throw new IOException(
                            r.failure().code() + ": " + r.failure().text());
                }
                if (r.answer() == null) {
                    throw new IOException("the operation answers nothing, so it has no rows");
                }
                return r.answer().payload();
            } catch (ServiceSession.NoSession | Refused e) {
                throw new IOException(e.getMessage(), e);
            }
        }

        @Override
        public void close() {
            line.close();
        }
    }
}
