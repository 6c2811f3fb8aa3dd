package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.connector.RisingRows;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.Taken;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.trigger.MessageInputs;
import org.wirekettle.trigger.RowsEndpoint;
import org.wirekettle.trigger.RowsTrigger;

/** Flows that take new rows of queries. */
@ApplicationScoped
class Rows implements TakerKind<RowsTrigger> {
    private final Connections connections;
    private final Expressions expressions;
    private final RowMapper rows;
    private final Handovers handovers;

    Rows(Connections connections, Expressions expressions, RowMapper rows, Handovers handovers) {
        this.connections = connections;
        this.expressions = expressions;
        this.rows = rows;
        this.handovers = handovers;
    }

    @Override
    public String kind() {
        return "rows";
    }

    @Override
    public Class<RowsTrigger> settings() {
        return RowsTrigger.class;
    }

    @Override
    public String things() {
        return "rows for";
    }

    /** Several flows may be told of the same rows. */
    @Override
    public Optional<String> place(RowsTrigger t, String environment) {
        return Optional.empty();
    }

    @Override
    public String url(RowsTrigger t, String environment) {
        return "";
    }

    @Override
    public Optional<String> reached(TriggerMapper.Row row) {
        return Optional.ofNullable(rows.get(row.id)).flatMap(r -> Optional.ofNullable(r.last));
    }

    @Override
    public void check(RowsTrigger t, String environment) {
        connections.row(t.checked().connection());
        try {
            rising(t, environment);
        } catch (IOException e) {
            throw Wrong.input("rows.query", "The query cannot be asked: " + e.getMessage() + ".");
        }
    }

    private RisingRows rising(RowsTrigger t, String environment) throws IOException {
        return RisingRows.of(connections.database(t.connection(), environment), t.query(), t.column(), expressions);
    }

    @Override
    public MessageInputs inputs(RowsTrigger t, Taken taken) {
        return RowsEndpoint.of(t, taken).inputs();
    }

    @Override
    public void reach(RowsTrigger t, String environment) throws IOException {
        rising(t, environment);
    }

    @Override
    public Live.Taking take(TriggerMapper.Row row, RowsTrigger t, Taken taken, Standing standing) throws IOException {
        RowsEndpoint endpoint = RowsEndpoint.of(t, taken);
        RisingRows rising = rising(t, row.environment);
        RowsEndpoint.check(taken.inputs().definition(), rising.fields());
        RowWatcher out = new RowWatcher(handovers, rows, row, endpoint, rising, standing);
        out.start();
        return new Live.Taking(endpoint.inputs(), out::trouble, out::close);
    }

    /** The flow is given a row that is made up. */
    @Override
    public EndpointResource.TriedEndpoint trying(Live live, RowsTrigger t, String sample) {
        MessageInputs inputs = live.taking().inputs();
        Map<String, String> columns = inputs.sample(sample).properties();
        return handovers.tried(live, sample, inputs.read(columns, handovers.now()));
    }
}
