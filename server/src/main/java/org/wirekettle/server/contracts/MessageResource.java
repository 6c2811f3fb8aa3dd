package org.wirekettle.server.contracts;

import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.nio.charset.StandardCharsets;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.MessageForm;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;

/** The messages of a contract's operations: laid out as rows, with their kinds, and as examples. */
@Path("/api/contracts/{name}")
public class MessageResource {
    /** Kinds of one answer. */
    private static final int MAX_KINDS = 100;

    private final Contracts contracts;
    private final Expressions expressions;

    MessageResource(Contracts contracts, Expressions expressions) {
        this.contracts = contracts;
        this.expressions = expressions;
    }

    /**
     * Which message to lay out.
     *
     * @param part {@code request}, {@code answer}, {@code fault:Name} or {@code headerfault:Name}
     * @param occurrences how often repeating rows are laid out, by path
     */
    public record ShapeQuery(
            String port,
            String operation,
            @Nullable String part,
            @Nullable Map<String, String> kinds,
            @Nullable List<String> opened,
            @Nullable Map<String, Integer> occurrences,
            Integer version) {}

    /** Which row's kinds to list, by a part of their name. */
    public record KindQuery(
            ShapeQuery shape, String path, @Nullable String text) {
        public KindQuery {
            Wrong.required(shape, "a shape");
            Wrong.required(path, "a path");
        }
    }

    public record KindList(List<ShapeRows.KindChoice> kinds, int total) {}

    /** @param full everything the shape allows */
    public record ExampleMessage(
            String port, String operation, @Nullable String part, boolean full, Integer version) {}

    /** @param problems what does not fit the schema; empty, unless no valid message exists */
    public record ExampleText(String envelope, List<Problem> problems) {}

    @Schema(name = "ShapeView")
    public record ShapeView(List<ShapeRows.Row> rows) {}

    @POST
    @Path("shape")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public ShapeView shape(@PathParam("name") String name, ShapeQuery q) {
        return new ShapeView(ShapeRows.of(
                message(contracts.get(name, q.version()), q.port(), q.operation(), q.part())
                        .root(),
                q.kinds() == null ? Map.of() : ShapeRows.oneEach(q.kinds()),
                new HashSet<>(q.opened() == null ? List.of() : q.opened()),
                q.occurrences() == null ? Map.of() : q.occurrences()));
    }

    /** All kinds a row can be of: a base type of a large system has thousands. */
    @POST
    @Path("kinds")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public KindList kinds(@PathParam("name") String name, KindQuery q) {
        Operation.Message m = message(
                contracts.get(name, q.shape().version()),
                q.shape().port(),
                q.shape().operation(),
                q.shape().part());
        return ShapeRows.kindsAt(
                        m.root(),
                        q.path(),
                        q.shape().kinds() == null ? Map.of() : q.shape().kinds(),
                        q.text() == null ? "" : q.text())
                .map(found -> new KindList(found.stream().limit(MAX_KINDS).toList(), found.size()))
                .orElseThrow(() -> Wrong.notFound("row", q.path()));
    }

    /** An example message: what is required, or everything. */
    @POST
    @Path("example")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public ExampleText example(@PathParam("name") String name, ExampleMessage q) {
        Contract c = contracts.get(name, q.version());
        Contract.Port port = c.port(q.port()).orElseThrow(() -> Wrong.notFound("port", q.port()));
        Operation o = operation(c, port.name(), q.operation());
        Operation.Message m = message(c, q.port(), q.operation(), q.part());
        Fill.Filled filled = Fill.compile(Examples.of(m.root(), q.full()), m.root(), expressions)
                .run(Scope.of(new Node("", "record")));
        boolean isAnswer = "answer".equals(q.part());
        MessageForm form = MessageForm.of(c, port, o);
        if (q.part() != null && q.part().contains("fault:")) {
            String detail = o.http() == null ? filled.headers() + filled.body() : form.answer(m, filled);
            return new ExampleText(detail, List.of());
        }
        if (isAnswer) {
            String text = form.answer(m, filled);
            return new ExampleText(text, o.answer() == null ? List.of() : form.checkAnswer(text));
        }
        try {
            String text = new String(form.write(filled), StandardCharsets.UTF_8);
            return new ExampleText(text, form.check(text));
        } catch (NotWritable e) {
            return new ExampleText("", List.of(e.problem()));
        }
    }

    static Operation.Message message(Contract c, String port, String operation, String wantedPart) {
        Operation o = operation(c, port, operation);
        String part = wantedPart == null ? "request" : wantedPart;
        if (part.equals("answer")) {
            return o.answer() == null ? new Operation.Message(Shape.record("message", List.of()), null) : o.answer();
        }
        if (part.contains("fault:")) {
            String fault = part.substring(part.indexOf(':') + 1);
            boolean inHeader = part.startsWith("header");
            return o.faults().stream()
                    .filter(f -> f.name().equals(fault) && f.isInHeader() == inHeader)
                    .findFirst()
                    .map(f -> new Operation.Message(Shape.record("fault", List.of(f.detail())), null))
                    .orElseThrow(() -> Wrong.notFound("fault", fault));
        }
        if (o.request() == null) {
            throw Wrong.input("operation.unusable", "The operation has no request: " + o.unusable());
        }
        return o.request();
    }

    static Operation operation(Contract c, String port, String operation) {
        return c.port(port)
                .orElseThrow(() -> Wrong.notFound("port", port))
                .operation(operation)
                .orElseThrow(() -> Wrong.notFound("operation", operation));
    }
}
