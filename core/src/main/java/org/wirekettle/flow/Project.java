package org.wirekettle.flow;

import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.call.CallLimits;
import org.wirekettle.call.ConnectionHeaders;
import org.wirekettle.call.ErrorRule;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.RetryPolicy;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.contract.Contract;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.record.Node;

/** Where a flow finds what it names. Implemented over the database by the server. */
public interface Project {
    /** @param version null for the current one */
    Optional<Contract> contract(String name, Integer version);

    /** @param parallel calls at a time the flow asks for; the connection's own limit holds too */
    Optional<CallTarget> connection(String name, int parallel);

    /** Secrets that messages over a connection may carry. */
    default SecretValues secrets(String connection) {
        return SecretValues.NONE;
    }

    /** How an operation's answer says that it failed. */
    default Optional<ErrorRule.Texts> errorRule(String contract, String operation) {
        return Optional.empty();
    }

    Optional<RecordSource> source(String name);

    /** @param fields of the records to be written, as far as they are known */
    Optional<RecordTarget> target(String name, List<Field> fields);

    /** What the time is, for expressions, trails and messages. */
    default Clock clock() {
        return Clock.systemUTC();
    }

    /** What documents of that name look like. */
    default Optional<DocumentShape> shape(String name) {
        return Optional.empty();
    }

    /** A flow that others may run. */
    default Optional<Flow> flow(String name) {
        return Optional.empty();
    }

    /** The connections of a database. */
    default Optional<SqlSource.Connections> database(String name) {
        return Optional.empty();
    }

    /** What expressions see beside the record, by name: of the run, of its inputs. */
    default Map<String, Node> variables() {
        return Map.of();
    }

    /**
     * A caller, and what its connection allows.
     *
     * @param parallel calls at a time that this step may make
     * @param limits shared by all that call over the connection
     * @param headers what it fills of every call
     */
    record CallTarget(HttpCaller http, int parallel, CallLimits limits, RetryPolicy retry, ConnectionHeaders headers) {}
}
