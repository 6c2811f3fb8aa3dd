package org.wirekettle.bench;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A TideDesk whose every answer has five million bytes: a service that gives all it has. */
final class LargeAnswers implements AutoCloseable {
    private static final int BYTES = 5_000_000;
    private static final int THREADS = 16;
    private final ExecutorService threads = Executors.newFixedThreadPool(THREADS);
    private final HttpServer server;

    LargeAnswers() throws IOException {
        byte[] answer = answer();
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.setExecutor(threads);
        server.createContext("/tidedesk", x -> {
            x.getRequestBody().readAllBytes();
            x.getResponseHeaders().set("Content-Type", "text/xml; charset=utf-8");
            x.sendResponseHeaders(200, answer.length);
            x.getResponseBody().write(answer);
            x.close();
        });
        server.start();
    }

    private static byte[] answer() {
        StringBuilder out = new StringBuilder(BYTES + 1_000)
                .append("<s:Envelope xmlns:s=\"http://schemas.xmlsoap.org/soap/envelope/\"><s:Body>")
                .append("<t:GetTideWindowResponse xmlns:t=\"urn:tallow-reach:tidedesk\">");
        for (int i = 0; out.length() < BYTES; i++) {
            out.append("<t:window><t:opensAt>2031-04-02T10:00:00Z</t:opensAt><t:closesAt>2031-04-02T12:00:00Z")
                    .append("</t:closesAt><t:clearance>")
                    .append(i % 90 / 10.0)
                    .append("</t:clearance></t:window>");
        }
        return out.append("</t:GetTideWindowResponse></s:Body></s:Envelope>")
                .toString()
                .getBytes(StandardCharsets.UTF_8);
    }

    String url() {
        return "http://127.0.0.1:" + server.getAddress().getPort();
    }

    @Override
    public void close() {
        server.stop(0);
        threads.shutdownNow();
    }
}
