package org.wirekettle.e2e;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/** A service that does not behave: what it does is in the address. Counts what it is asked. */
final class OddService implements AutoCloseable {
    private final HttpServer server;
    private final AtomicInteger requests = new AtomicInteger();
    private volatile boolean over;

    OddService() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        server.setExecutor(Executors.newCachedThreadPool(r -> {
            Thread t = new Thread(r, "odd-service");
            t.setDaemon(true);
            return t;
        }));
        server.createContext("/", x -> {
            String request = new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            requests.incrementAndGet();
            String path = x.getRequestURI().getPath();
            String said = x.getRequestHeaders().getFirst("Authorization") + " " + request;
            String body =
                    switch (path.split("/")[1]) {
                        case "echo" ->
                            envelope("<e:Echo xmlns:e='urn:e'>"
                                    + said.replace("&", "&amp;").replace("<", "&lt;") + "</e:Echo>");
                        case "fault" ->
                            envelope("<soap:Fault><faultcode>soap:Server</faultcode><faultstring>cannot: "
                                    + said.replace("&", "&amp;").replace("<", "&lt;") + "</faultstring></soap:Fault>");
                        default -> "<html><body>Please log in</body></html>";
                    };
            if (path.startsWith("/drip")) {
                drip(x);
                return;
            }
            x.getResponseHeaders()
                    .add("Content-Type", path.startsWith("/page") ? "text/html" : "text/xml; charset=utf-8");
            x.getResponseHeaders()
                    .add("X-Echo", String.valueOf(x.getRequestHeaders().getFirst("Authorization")));
            byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
            x.sendResponseHeaders(
                    path.startsWith("/status/")
                            ? Integer.parseInt(path.substring(8))
                            : path.startsWith("/fault") ? 500 : 200,
                    bytes.length);
            x.getResponseBody().write(bytes);
            x.close();
        });
        server.start();
    }

    private void drip(com.sun.net.httpserver.HttpExchange x) throws IOException {
        x.sendResponseHeaders(200, 100_000);
        try {
            while (!over) {
                x.getResponseBody().write(' ');
                x.getResponseBody().flush();
                Thread.sleep(30);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            x.close();
        }
    }

    private static String envelope(String body) {
        return "<soap:Envelope xmlns:soap=\"http://schemas.xmlsoap.org/soap/envelope/\"><soap:Body>" + body
                + "</soap:Body></soap:Envelope>";
    }

    String url(String path) {
        return "http://127.0.0.1:" + server.getAddress().getPort() + path;
    }

    int requests() {
        return requests.get();
    }

    @Override
    public void close() {
        over = true;
        server.stop(0);
    }
}
