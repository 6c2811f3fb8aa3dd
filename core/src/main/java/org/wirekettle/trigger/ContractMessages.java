package org.wirekettle.trigger;

import java.time.Instant;
import java.util.List;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.contract.MessageCheck;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.flow.Reply;
import org.wirekettle.input.InputProblem;
import org.wirekettle.input.InputReading;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.soap.SentFault;
import org.wirekettle.soap.SoapRequest;

/** Messages of an operation of an imported contract, which a flow answers in the service's place. */
final class ContractMessages implements SoapMessages {
    private final ContractOperation of;

    ContractMessages(ContractOperation of) {
        this.of = of;
    }

    @Override
    public QualifiedName request() {
        return of.request().map(s -> new QualifiedName(s.namespace(), s.name())).orElse(null);
    }

    @Override
    public Use use() {
        return of.operation().use();
    }

    @Override
    public Read read(SoapRequest message, Instant now) {
        Node record = message.body().isEmpty()
                ? new Node("", "empty")
                : message.body().get(0);
        // References make a message a graph, which no schema describes (SOAP 1.1 §5.1).
        boolean isGraph = use() == Use.ENCODED && message.text().contains("href=");
        List<Problem> problems = isGraph
                ? List.of()
                : MessageCheck.check(of.contract(), of.operation().request(), message.text());
        return new Read(
                record,
                problems.stream()
                        .limit(InputReading.MAX_PROBLEMS)
                        .map(ContractMessages::problem)
                        .toList());
    }

    private static InputProblem problem(Problem p) {
        boolean isLine = p.row() == null && p.place() != null && p.place().line() > 0;
        return InputProblem.of(
                p.row() != null ? "/" + p.row() : isLine ? "line " + p.place().line() : "", p.text());
    }

    @Override
    public Sent reply(Reply reply) {
        if (of.operation().answer() == null) {
            return new Sent(null, "", "");
        }
        if (reply == null || reply.message() == null) {
            return new Sent(SentFault.receiver("The flow has ended without an answer."), "", "");
        }
        Reply.Message m = reply.message();
        return m.fault() == null
                ? new Sent(null, m.headers(), m.body())
                : new Sent(SentFault.receiver(m.reason()).detailed(m.body()), m.headers(), "");
    }

    @Override
    public boolean isOneWay() {
        return of.operation().answer() == null;
    }

    @Override
    public String request(String sample) {
        try {
            if (!sample.isBlank()) {
                NodeXml.read(sample);
            }
            return sample.strip().replaceFirst("^<\\?xml[^>]*\\?>", "");
        } catch (XMLStreamException e) {
            throw new Refused("sample.xml", null, "A sample is the element in the body of a request, as XML.", e);
        }
    }
}
