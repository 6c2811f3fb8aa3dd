package org.wirekettle.bench;

import io.vertx.core.Vertx;
import io.vertx.core.VertxOptions;
import io.vertx.core.http.HttpServerRequest;
import java.io.ByteArrayInputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.regex.Pattern;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/**
 * What a developer would write instead of publishing a flow: one address, a template for the request, the same HTTP
 * client, StAX, JSON by hand; a key is compared. On the HTTP server that Quarkus has below it, with its worker threads,
 * and without what Quarkus does in between. It keeps no trail and no account.
 */
public final class HandWrittenEndpoint {
    private static final XMLInputFactory XML = XMLInputFactory.newFactory();
    private static final Pattern PORT = Pattern.compile("[A-Z]{5}");
    private static final int WORKERS = 200;

    private HandWrittenEndpoint() {}

    /** Arguments: the port, the service's address, the key. */
    public static void main(String[] a) {
        HandWritten.Sender sender = HandWritten.sender(64);
        Vertx vertx = Vertx.vertx(new VertxOptions().setWorkerPoolSize(WORKERS));
        vertx.createHttpServer()
                .requestHandler(r -> vertx.executeBlocking(() -> answer(r, sender, a[1], a[2]), false)
                        .onSuccess(json -> r.response()
                                .putHeader("Content-Type", "application/json")
                                .end(json))
                        .onFailure(e -> r.response()
                                .setStatusCode(e instanceof IllegalArgumentException ? 400 : 502)
                                .end(String.valueOf(e.getMessage()))))
                .listen(Integer.parseInt(a[0]), "127.0.0.1");
    }

    private static String answer(HttpServerRequest r, HandWritten.Sender sender, String service, String key)
            throws Exception {
        if (!("Bearer " + key).equals(r.getHeader("Authorization"))) {
            throw new IllegalArgumentException("no key");
        }
        String port = r.path().substring(r.path().lastIndexOf('/') + 1);
        if (!PORT.matcher(port).matches()) {
            throw new IllegalArgumentException("no port");
        }
        BigDecimal draught = new BigDecimal(r.getParam("draught"));
        if (draught.signum() < 0 || draught.compareTo(BigDecimal.valueOf(30)) > 0) {
            throw new IllegalArgumentException("no draught");
        }
        String envelope = "<s:Envelope xmlns:s=\"http://schemas.xmlsoap.org/soap/envelope/\"><s:Body>"
                + "<t:GetTideWindow xmlns:t=\"urn:tallow-reach:tidedesk\"><t:portCode>" + port
                + "</t:portCode><t:arrival>" + r.getParam("arrival") + "</t:arrival><t:draught>" + draught
                + "</t:draught></t:GetTideWindow></s:Body></s:Envelope>";
        return json(sender.post(service, envelope.getBytes(StandardCharsets.UTF_8)));
    }

    private static String json(byte[] answer) throws XMLStreamException {
        XMLStreamReader x = XML.createXMLStreamReader(new ByteArrayInputStream(answer));
        StringBuilder out = new StringBuilder("[");
        String opens = null;
        String closes = null;
        while (x.hasNext()) {
            if (x.next() == XMLStreamConstants.START_ELEMENT) {
                switch (x.getLocalName()) {
                    case "opensAt" -> opens = x.getElementText();
                    case "closesAt" -> closes = x.getElementText();
                    case "clearance" ->
                        out.append(out.length() > 1 ? "," : "")
                                .append("{\"opens\":\"")
                                .append(opens)
                                .append("\",\"closes\":\"")
                                .append(closes)
                                .append("\",\"clearance\":")
                                .append(x.getElementText())
                                .append('}');
                    default -> {
                        // not wanted
                    }
                }
            }
        }
        x.close();
        return out.append(']').toString();
    }
}
