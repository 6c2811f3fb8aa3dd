package org.wirekettle.call;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.MessageCheck;
import org.wirekettle.contract.Operation;
import org.wirekettle.http.HttpAnswers;
import org.wirekettle.http.HttpMessage;
import org.wirekettle.http.HttpReadBack;
import org.wirekettle.http.HttpRequests;
import org.wirekettle.http.JsonBody;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.ReadBack;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.Shape;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XmlText;
import org.wirekettle.xml.XopInclude;

/** What the messages of an operation look like, while they are designed: written, checked, and read back into rows. */
public interface MessageForm {
    static MessageForm of(Contract contract, Port port, Operation operation) {
        return operation.http() == null ? new Soap(contract, port, operation) : new Plain(operation);
    }

    /** @throws NotWritable when a value cannot go where it is meant to */
    byte[] write(Fill.Filled filled) throws NotWritable;

    /** What of a request does not fit its schema. */
    List<Problem> check(String request);

    /** The text of an answer, or of what a fault tells, such as an example. */
    String answer(Operation.Message message, Fill.Filled filled);

    /** What {@code $reply} stands for in an answer; empty when it cannot be read. */
    Optional<Node> payload(Exchange x);

    /** The text of an answer as it came. */
    String text(Exchange x);

    /** What of an answer's text does not fit its schema. */
    List<Problem> checkAnswer(String answer);

    /** @throws Refused with the line, when it is no message of this operation */
    ReadBack.Result readBack(String request);

    /** An envelope. */
    record Soap(Contract contract, Port port, Operation operation) implements MessageForm {
        @Override
        public byte[] write(Fill.Filled filled) {
            return Envelopes.write(SoapVersion.of(port.protocol()), operation.use(), filled.headers(), filled.body());
        }

        @Override
        public List<Problem> check(String request) {
            return MessageCheck.check(contract, operation.request(), XopInclude.without(request));
        }

        @Override
        public String answer(Operation.Message message, Fill.Filled filled) {
            return new String(write(filled), StandardCharsets.UTF_8);
        }

        @Override
        public Optional<Node> payload(Exchange x) {
            try {
                return Optional.of(x.envelope().payload());
            } catch (Envelopes.Unreadable e) {
                return Optional.empty();
            }
        }

        @Override
        public String text(Exchange x) {
            return XmlText.decoded(x.xml());
        }

        @Override
        public List<Problem> checkAnswer(String answer) {
            // An encoded answer with references is a graph, which no schema describes (SOAP 1.1 §5.1).
            if (operation.answer() == null || operation.use() == Operation.Use.ENCODED && answer.contains("href=")) {
                return List.of();
            }
            return MessageCheck.check(contract, operation.answer(), XopInclude.without(answer));
        }

        @Override
        public ReadBack.Result readBack(String request) {
            XmlElement envelope = XmlElement.parse("request", request);
            if (!envelope.name().equals("Envelope")) {
                throw new Refused(
                        "soap.envelope",
                        envelope.place(),
                        "The root element is <" + envelope.name() + ">, not a SOAP <Envelope>.");
            }
            return ReadBack.of(operation.request().root(), envelope, request);
        }
    }

    /** A request with its path, headers and body. */
    record Plain(Operation operation) implements MessageForm {
        @Override
        public byte[] write(Fill.Filled filled) throws NotWritable {
            return new HttpRequests(operation).write(filled.body()).bytes();
        }

        @Override
        public List<Problem> check(String request) {
            try {
                List<Problem> out = new ArrayList<>();
                HttpReadBack.of(operation, request)
                        .lost()
                        // Parts are written and not read back: what was filled is checked already.
                        .stream()
                        .filter(p -> operation.http().body() == null
                                || operation.http().body().form() != HttpTemplate.Form.PARTS
                                || !HttpTemplate.BODY.equals(p.row()))
                        .forEach(p -> out.add(
                                Problem.error("http.fit", Place.of("request"), "The " + p.inWords() + ".", null)));
                HttpMessage message = HttpMessage.read(request.getBytes(StandardCharsets.UTF_8));
                if (operation.request().json() != null && message.body().length > 0) {
                    String body = new String(message.body(), StandardCharsets.UTF_8);
                    out.addAll(operation
                            .request()
                            .json()
                            .check("request", body, message.headers().size() + 2));
                }
                return out;
            } catch (Refused e) {
                return List.of(e.problem());
            }
        }

        @Override
        public String answer(Operation.Message message, Fill.Filled filled) {
            List<Shape> parts = message.root().children();
            if (parts.isEmpty() || !parts.get(0).name().equals(HttpTemplate.JSON_ANSWER)) {
                return filled.body();
            }
            try {
                return new String(JsonBody.write(NodeXml.read(filled.body()), parts.get(0)), StandardCharsets.UTF_8);
            } catch (XMLStreamException e) {
                throw new IllegalStateException("what was filled is XML", e);
            }
        }

        static HttpAnswers.Came came(Exchange x) {
            return new HttpAnswers.Came(x.status(), x.contentType().orElse(null), x.answerHeaders(), x.answer());
        }

        @Override
        public Optional<Node> payload(Exchange x) {
            try {
                return Optional.of(new HttpAnswers(operation).read(came(x)).payload());
            } catch (HttpAnswers.Unreadable e) {
                return Optional.empty();
            }
        }

        @Override
        public String text(Exchange x) {
            return HttpAnswers.text(came(x));
        }

        @Override
        public List<Problem> checkAnswer(String answer) {
            return operation.answer().json() == null
                    ? List.of()
                    : operation.answer().json().check("answer", answer, 0);
        }

        @Override
        public ReadBack.Result readBack(String request) {
            return HttpReadBack.of(operation, request);
        }
    }
}
