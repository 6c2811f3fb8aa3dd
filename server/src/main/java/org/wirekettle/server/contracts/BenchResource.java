package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.SoapCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.MappingProblem;
import org.wirekettle.problem.Note;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.Fault;
import org.wirekettle.soap.SoapVersion;

/** The Bench: one operation tried by hand. */
@Path("/api/contracts/{name}/bench")
public class BenchResource {
    private static final int MAX_FOUND = 200;
    private final Contracts contracts;
    private final Connections connections;
    private final Expressions expressions;
    private final HostPolicy policy;

    BenchResource(Contracts contracts, Connections connections, Expressions expressions, HostPolicy policy) {
        this.contracts = contracts;
        this.connections = connections;
        this.expressions = expressions;
        this.policy = policy;
    }

    /** The request as rules with fixed texts, or as the body's XML; sent over a connection, or to the port's own address. */
    public record BenchRequest(String port, String operation, List<Rule> rules, String xml, String connection, String environment, String url) {}

    /** The message as it would be sent. */
    public record BenchMessage(String envelope, List<MappingProblem> problems, List<Note> validation) {}

    public record FaultView(String code, String reason, String actor, String name, Tree detail) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record BenchAnswer(String outcome, String problem, String url, int status, long waitMicros, long readMicros, List<String[]> requestHeaders, String request,
            List<String[]> answerHeaders, String answer, int answerBytes, List<Tree> tree, FaultView fault, List<Note> validation) {}

    public record ExampleQuery(String port, String operation, boolean full) {}

    public record XPathQuery(String answer, String xpath) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record XPathResult(int count, List<String> values, String problem, Integer offset) {}

    private record Built(Contract contract, Contract.Port port, Operation operation, byte[] envelope, String body, List<MappingProblem> problems) {}

    private Built build(String name, BenchRequest in) {
        Contract c = contracts.get(name);
        Contract.Port port = c.port(in.port()).orElseThrow(() -> Wrong.notFound("port", in.port()));
        Operation o = ContractResource.operation(c, port.name(), in.operation());
        if (!o.isUsable()) {
            throw Wrong.input("operation.unusable", "The operation cannot be called: " + o.unusable());
        }
        SoapVersion version = SoapVersion.of(port.protocol());
        if (in.xml() != null) {
            return new Built(c, port, o, in.xml().getBytes(StandardCharsets.UTF_8), null, List.of());
        }
        Fill fill = Fill.compile(new Mapping(in.rules()), o.request().root(), expressions);
        Fill.Filled filled = fill.run(Scope.of(new Node("", "record")));
        List<MappingProblem> problems = new ArrayList<>(fill.problems());
        filled.problems().stream().filter(p -> problems.stream().noneMatch(q -> q.path().equals(p.path()) && q.text().equals(p.text()))).forEach(problems::add);
        return new Built(c, port, o, Envelopes.write(version, o.use(), filled.headers(), filled.body()), filled.body(), problems);
    }

    /** The rules of an example request; {@code full} for everything the shape allows. */
    @POST
    @Path("example")
    @org.wirekettle.server.access.Allow(org.wirekettle.server.access.Role.VIEWER)
    public Mapping example(@PathParam("name") String name, ExampleQuery q) {
        Contract c = contracts.get(name);
        Operation o = ContractResource.operation(c, q.port(), q.operation());
        if (o.request() == null) {
            throw Wrong.input("operation.unusable", "The operation has no request: " + o.unusable());
        }
        return Examples.of(o.request().root(), q.full());
    }

    @POST
    @Path("message")
    public BenchMessage message(@PathParam("name") String name, BenchRequest in) {
        Built b = build(name, in);
        return new BenchMessage(new String(b.envelope, StandardCharsets.UTF_8), b.problems, validation(b));
    }

    private static List<Note> validation(Built b) {
        return b.body == null || b.body.isEmpty() || b.operation.request().wrapper() != null ? List.of() : b.contract.schemas().validate(b.body);
    }

    @POST
    @Path("send")
    public BenchAnswer send(@PathParam("name") String name, BenchRequest in) {
        Built b = build(name, in);
        HttpSettings settings;
        if (in.connection() != null && !in.connection().isBlank()) {
            settings = connections.http(in.connection(), in.environment());
        } else {
            String url = in.url() == null || in.url().isBlank() ? b.port.address() : in.url();
            if (url == null) {
                throw Wrong.input("bench.address", "The contract gives no address; choose a connection or type one.");
            }
            settings = HttpSettings.to(url);
        }
        try (HttpCaller http = new HttpCaller(settings.withParallel(1), policy)) {
            return view(new SoapCaller(b.port, b.operation, http).call(b.envelope), b);
        } catch (IllegalArgumentException e) {
            throw Wrong.input("bench.address", e.getMessage());
        }
    }

    private static BenchAnswer view(SoapCaller.Result r, Built b) {
        Exchange x = r.exchange();
        Fault f = r.answer() == null ? null : r.answer().fault();
        List<Tree> tree = r.answer() == null ? null : r.answer().body().stream().map(Trees::of).toList();
        return new BenchAnswer(x.outcome().name().toLowerCase(java.util.Locale.ROOT).replace('_', ' '), r.failure() == null || f != null ? x.problem() : r.failure().text(), x.url(),
                x.status(), x.waitMicros(), x.readMicros(), x.requestHeaders(), new String(x.request(), StandardCharsets.UTF_8), x.answerHeaders(),
                new String(x.answer(), StandardCharsets.UTF_8), x.answer().length, tree,
                f == null ? null : new FaultView(f.code(), f.reason(), f.actor(), f.name(), f.detail() == null ? null : Trees.of(f.detail())), validation(b));
    }

    /** Evaluates an expression over an answer; its context is the body's first element, which is also {@code $reply}. */
    @POST
    @Path("xpath")
    @org.wirekettle.server.access.Allow(org.wirekettle.server.access.Role.VIEWER)
    public XPathResult xpath(@PathParam("name") String name, XPathQuery q) {
        try {
            Node reply = Envelopes.read(q.answer().getBytes(StandardCharsets.UTF_8)).payload();
            Expression e = expressions.compile(q.xpath());
            List<Node> found = e.nodes(Scope.of(reply).with("reply", reply));
            return new XPathResult(found.size(), found.stream().limit(MAX_FOUND).map(Node::string).toList(), null, null);
        } catch (ExpressionFault e) {
            return new XPathResult(0, List.of(), e.getMessage(), e.offset() < 0 ? null : e.offset());
        } catch (EvaluationFailed | Envelopes.Unreadable e) {
            return new XPathResult(0, List.of(), e.getMessage(), null);
        }
    }
}
