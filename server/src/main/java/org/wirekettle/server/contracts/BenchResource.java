package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.HttpAnswers;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.ReadBack;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.soap.Envelopes;

/** The Bench: one operation tried by hand. */
@Path("/api/contracts/{name}/bench")
public class BenchResource {
    private static final int MAX_FOUND = 200;
    private static final Pattern ENCODING =
            Pattern.compile("(<\\?xml[^>]*?)\\s+encoding\\s*=\\s*(?:\"[^\"]*\"|'[^']*')");
    private final Contracts contracts;
    private final Expressions expressions;
    private final HostPolicy policy;
    private final BenchHistory history;
    private final CallsByHand calls;
    private final Caller caller;
    private final Json json;

    BenchResource(
            Contracts contracts,
            Expressions expressions,
            HostPolicy policy,
            BenchHistory history,
            CallsByHand calls,
            Caller caller,
            Json json) {
        this.contracts = contracts;
        this.expressions = expressions;
        this.policy = policy;
        this.history = history;
        this.calls = calls;
        this.caller = caller;
        this.json = json;
    }

    /**
     * The request as rules with fixed texts, or as the body's XML; sent over a connection, or to the port's own
     * address.
     */
    public record BenchRequest(
            String port,
            String operation,
            @Nullable List<Rule> rules,
            @Nullable String xml,
            @Nullable String connection,
            @Nullable String environment,
            @Nullable String url) {}

    /** The message as it would be sent. */
    public record BenchMessage(String envelope, List<Problem> problems, List<Problem> validation) {}

    /** The body's XML, to be shown as rows. */
    public record BenchXml(String port, String operation, String xml) {}

    /** @param lost what has no row; written from rows again, it would be missing */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record BenchRules(
            List<Rule> rules, List<Problem> lost, @Nullable String problem, Integer line) {}

    /** An exchange made earlier. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PastExchange(
            long id,
            OffsetDateTime sentAt,
            String account,
            String url,
            String outcome,
            int status,
            long micros,
            @Nullable String fault) {}

    public record ExampleQuery(String port, String operation, boolean full) {}

    /** @param as what the answer is of; null for a SOAP message */
    public record XPathQuery(
            String answer, String xpath, @Nullable AnswerOf as) {
        public XPathQuery {
            Wrong.required(answer, "the answer");
            Wrong.required(xpath, "an xpath");
        }
    }

    /** Which operation answered, and how. */
    public record AnswerOf(
            String port,
            String operation,
            int status,
            @Nullable List<String[]> headers) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record XPathResult(
            int count,
            @Nullable List<String> values,
            @Nullable String problem,
            Integer offset) {}

    /** @param filled null when the XML was written by hand */
    private record Built(
            Contract contract,
            Contract.Port port,
            Operation operation,
            byte[] envelope,
            Fill.Filled filled,
            List<Problem> problems) {}

    private Built build(String name, BenchRequest in) {
        Contract c = contracts.get(name);
        Contract.Port port = c.port(in.port()).orElseThrow(() -> Wrong.notFound("port", in.port()));
        Operation o = MessageResource.operation(c, port.name(), in.operation());
        if (!o.isUsable()) {
            throw Wrong.input("operation.unusable", "The operation cannot be called: " + o.unusable());
        }
        if (in.xml() != null) {
            return new Built(c, port, o, in.xml().getBytes(StandardCharsets.UTF_8), null, List.of());
        }
        Fill fill = Fill.compile(new Mapping(in.rules()), o.request().root(), expressions);
        Fill.Filled filled = fill.run(Scope.of(new Node("", "record")));
        List<Problem> problems = Problem.oncePerRow(fill.problems(), filled.problems());
        try {
            return new Built(c, port, o, MessageForm.of(c, port, o).write(filled), filled, problems);
        } catch (NotWritable e) {
            return new Built(c, port, o, new byte[0], filled, Problem.oncePerRow(problems, List.of(e.problem())));
        }
    }

    /** The rules of an example request; {@code full} for everything the shape allows. */
    @POST
    @Path("example")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public Mapping example(@PathParam("name") String name, ExampleQuery q) {
        Contract c = contracts.get(name);
        Operation o = MessageResource.operation(c, q.port(), q.operation());
        if (o.request() == null) {
            throw Wrong.input("operation.unusable", "The operation has no request: " + o.unusable());
        }
        return Examples.of(o.request().root(), q.full());
    }

    @POST
    @Path("message")
    @ReadsOnly
    public BenchMessage message(@PathParam("name") String name, BenchRequest in) {
        Built b = build(name, in);
        List<Problem> unfit = b.envelope.length == 0 ? List.of() : validation(b);
        return new BenchMessage(new String(b.envelope, StandardCharsets.UTF_8), b.problems, unfit);
    }

    private static List<Problem> validation(Built b) {
        return MessageForm.of(b.contract, b.port, b.operation).check(new String(b.envelope, StandardCharsets.UTF_8));
    }

    /** The rows' values of a request written as XML. */
    @POST
    @Path("rules")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public BenchRules rules(@PathParam("name") String name, BenchXml in) {
        Contract c = contracts.get(name);
        Operation o = MessageResource.operation(c, in.port(), in.operation());
        try {
            Contract.Port port = c.port(in.port()).orElseThrow(() -> Wrong.notFound("port", in.port()));
            // Whether it has a request at all is said first.
            MessageResource.message(c, in.port(), o.name(), "request");
            ReadBack.Result read = MessageForm.of(c, port, o).readBack(in.xml());
            return new BenchRules(read.mapping().rules(), read.lost(), null, null);
        } catch (Refused e) {
            return new BenchRules(
                    List.of(),
                    List.of(),
                    e.getMessage(),
                    e.place() == null ? null : e.place().line());
        }
    }

    @POST
    @Path("send")
    public BenchAnswer send(@PathParam("name") String name, BenchRequest in) {
        caller.note("operation " + in.operation());
        Built b = build(name, in);
        CallsByHand.Called called = new CallsByHand.Called(name, b.port, b.operation);
        OperationCaller.Result r = calls.make(
                called,
                new CallsByHand.Way(in.connection(), in.environment(), in.url()),
                new CallsByHand.Sent(in.rules(), b.filled == null ? b.envelope : null));
        return BenchAnswer.of(keep(name, b, r), r, b.contract, b.port, b.operation);
    }

    /** @return the kept exchange's id; null when it is too large to be kept */
    private Long keep(String contract, Built b, OperationCaller.Result r) {
        Exchange x = r.exchange();
        ExchangeLimits keeping = ExchangeLimits.of(history.limits(), json);
        if ((long) x.request().length + x.answer().length > keeping.bytes()) {
            return null;
        }
        BenchHistory.Row row = new BenchHistory.Row();
        row.port = b.port.name();
        row.operation = b.operation.name();
        row.account = caller.name();
        row.url = x.url();
        row.outcome = x.outcome().name();
        row.status = x.status();
        row.micros = x.totalMicros();
        row.fault = r.answer() == null || r.answer().fault() == null
                ? null
                : r.answer().fault().name();
        row.request = x.request();
        row.answer = x.answer();
        row.requestHeaders = json.write(x.requestHeaders());
        row.answerHeaders = json.write(x.answerHeaders());
        long id = history.keep(contract, row);
        history.makeRoom(contract, row.port, row.operation, keeping.each());
        return id;
    }

    /** What was sent from here before, newest first. */
    @GET
    @Path("history")
    public List<PastExchange> history(
            @PathParam("name") String name,
            @QueryParam("port") String port,
            @QueryParam("operation") String operation) {
        return history.list(name, port, operation).stream()
                .map(r -> new PastExchange(
                        r.id,
                        r.sentAt,
                        r.account,
                        r.url,
                        Exchange.Outcome.valueOf(r.outcome).words(),
                        r.status,
                        r.micros,
                        r.fault))
                .toList();
    }

    /** An earlier exchange, its answer read anew. */
    @GET
    @Path("history/{id}")
    public BenchAnswer past(@PathParam("name") String name, @PathParam("id") long id) {
        BenchHistory.Row row = history.get(name, id);
        if (row == null) {
            throw Wrong.notFound("exchange", id);
        }
        Contract c = contracts.get(name);
        Contract.Port port = c.port(row.port).orElseThrow(() -> Wrong.notFound("port", row.port));
        Operation o = MessageResource.operation(c, row.port, row.operation);
        Exchange x = new Exchange(
                Exchange.Outcome.valueOf(row.outcome),
                row.url,
                headers(row.requestHeaders),
                row.request,
                row.status,
                headers(row.answerHeaders),
                row.answer,
                null,
                row.micros,
                0);
        try (HttpCaller http = new HttpCaller(HttpSettings.to(row.url), policy)) {
            OperationCaller reader = calls.caller(new CallsByHand.Called(name, port, o), http);
            return BenchAnswer.of(id, reader.judge(x), c, port, o);
        }
    }

    private List<String[]> headers(String kept) {
        return kept == null ? List.of() : List.of(json.read(kept, String[][].class));
    }

    /**
     * Evaluates an expression over an answer; its context is the body's first element, which is also {@code $reply}.
     */
    @POST
    @Path("xpath")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public XPathResult xpath(@PathParam("name") String name, XPathQuery q) {
        try {
            Node reply = reply(name, q);
            Expression e = expressions.compile(q.xpath(), BenchAnswer.prefixes(q.answer()));
            List<Node> found = e.nodes(Scope.of(reply).with("reply", reply));
            return new XPathResult(
                    found.size(),
                    found.stream().limit(MAX_FOUND).map(Node::string).toList(),
                    null,
                    null);
        } catch (ExpressionFault e) {
            return new XPathResult(0, List.of(), e.getMessage(), e.offset() < 0 ? null : e.offset());
        } catch (EvaluationFailed | Envelopes.Unreadable | HttpAnswers.Unreadable e) {
            return new XPathResult(0, List.of(), e.getMessage(), null);
        }
    }

    private Node reply(String contract, XPathQuery q) throws Envelopes.Unreadable, HttpAnswers.Unreadable {
        // It came decoded; what the declaration says of its bytes is history.
        byte[] answer = ENCODING.matcher(q.answer()).replaceFirst("$1").getBytes(StandardCharsets.UTF_8);
        Operation o = q.as() == null
                ? null
                : MessageResource.operation(contracts.get(contract), q.as().port(), q.as().operation());
        if (o == null || o.http() == null) {
            return Envelopes.read(answer, true).payload();
        }
        List<String[]> headers = q.as().headers() == null ? List.of() : q.as().headers();
        String type = headers.stream()
                .filter(h -> h.length == 2 && h[0].equalsIgnoreCase("Content-Type"))
                .map(h -> h[1].replaceFirst("(?i);\\s*charset=[^;]*", ""))
                .findFirst()
                .orElse(null);
        return new HttpAnswers(o)
                .read(new HttpAnswers.Came(q.as().status(), type, headers, answer))
                .payload();
    }
}
