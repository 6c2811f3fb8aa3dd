package org.wirekettle.demo;

import io.vertx.core.Vertx;
import io.vertx.core.VertxOptions;
import io.vertx.core.buffer.Buffer;
import io.vertx.core.http.HttpServer;
import io.vertx.core.http.HttpServerOptions;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.core.net.PfxOptions;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.zip.CRC32;
import org.wirekettle.demo.berths.BerthPlanner;
import org.wirekettle.demo.bulletin.MarineBulletin;
import org.wirekettle.demo.cargo.CargoManifest;
import org.wirekettle.demo.crew.CrewLedger;
import org.wirekettle.demo.dues.HarbourDues;
import org.wirekettle.demo.pilotdesk.PilotDesk;
import org.wirekettle.demo.registry.Registry;
import org.wirekettle.demo.tidedesk.Gatekeeper;
import org.wirekettle.demo.tidedesk.TideDesk;

/** All simulated services on one loopback port. Counts what it is asked, so that tests can compare. */
public final class DemoServer implements AutoCloseable {
    private static final int CALLS_PER_SESSION = 100;

    private final Vertx vertx = Vertx.vertx(new VertxOptions().setEventLoopPoolSize(2));
    private final List<HttpServer> servers = new ArrayList<>();
    private final TideDesk tideDesk = new TideDesk();
    private final PilotDesk pilotDesk = new PilotDesk();
    private final BerthPlanner berths = new BerthPlanner(CALLS_PER_SESSION);
    private final Gatekeeper gatekeeper = new Gatekeeper();
    private final TokenDesk tokenDesk = new TokenDesk();
    private final CrewLedger crew = new CrewLedger(tokenDesk::isKnown);
    private final Settings settings;
    private final AtomicLong requests = new AtomicLong();
    private final Map<Long, AtomicLong> byBody = new ConcurrentHashMap<>();
    private int port;

    /**
     * @param delayMillis before each answer
     * @param faultEvery every how-manieth request gets a server fault; 0 for none
     * @param dropEvery every how-manieth request is read and its connection closed without an answer; 0 for none
     * @param countBodies whether to tell repeated requests from new ones
     */
    public record Settings(int port, int delayMillis, int faultEvery, int dropEvery, boolean countBodies) {}

    public DemoServer(Settings settings) throws Exception {
        this.settings = settings;
        int instances = 2;
        port = settings.port() == 0 ? freePort() : settings.port();
        for (int i = 0; i < instances; i++) {
            HttpServer s = vertx.createHttpServer(new HttpServerOptions()
                    .setHost("127.0.0.1")
                    .setPort(port)
                    .setReusePort(false)
                    .setIdleTimeout(60)
                    .setTcpNoDelay(true));
            s.requestHandler(this::handle);
            port = s.listen()
                    .toCompletionStage()
                    .toCompletableFuture()
                    .get(20, TimeUnit.SECONDS)
                    .actualPort();
            servers.add(s);
        }
    }

    /**
     * The same services over TLS, with a certificate of an authority that nobody knows.
     *
     * @param tlsPort 0 for a free one
     * @param keys a PKCS#12 store, see {@link Authority#kept}
     * @return the port
     */
    public int listenWithTls(int tlsPort, byte[] keys) throws Exception {
        HttpServer s = vertx.createHttpServer(new HttpServerOptions()
                .setHost("127.0.0.1")
                .setPort(tlsPort)
                .setSsl(true)
                .setKeyCertOptions(
                        new PfxOptions().setValue(Buffer.buffer(keys)).setPassword(Authority.password()))
                .setIdleTimeout(60));
        s.requestHandler(this::handle);
        servers.add(s);
        return s.listen()
                .toCompletionStage()
                .toCompletableFuture()
                .get(20, TimeUnit.SECONDS)
                .actualPort();
    }

    /** Several event loops can share a port only when it is known beforehand. */
    private static int freePort() throws IOException {
        try (ServerSocket s = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return s.getLocalPort();
        }
    }

    public int port() {
        return port;
    }

    public String url() {
        return "http://127.0.0.1:" + port;
    }

    public BerthPlanner berths() {
        return berths;
    }

    public long requests() {
        return requests.get();
    }

    /** Requests whose body had been seen before. */
    public long repeated() {
        return byBody.values().stream()
                .mapToLong(AtomicLong::get)
                .map(n -> n - 1)
                .sum();
    }

    private void handle(HttpServerRequest r) {
        if (r.path().equals("/tidedesk/tokens") && !tokenDesk.isKnown(r.getHeader("Authorization"))) {
            r.response()
                    .setStatusCode(401)
                    .putHeader("WWW-Authenticate", "Bearer realm=\"harbour\"")
                    .end();
        } else if (CrewLedger.isFor(r.path())) {
            requests.incrementAndGet();
            r.body().onSuccess(body -> crew.handle(r, body.toString()));
        } else if (r.path().equals("/token")) {
            r.body().onSuccess(body -> token(r, body.toString()));
        } else if (r.method().name().equals("GET")) {
            get(r);
        } else {
            r.body().onSuccess(body -> post(r, body));
        }
    }

    private void token(HttpServerRequest r, String form) {
        String answer = tokenDesk.token(r.getHeader("Authorization"), form);
        r.response()
                .setStatusCode(answer == null ? 401 : 200)
                .putHeader("content-type", "application/json")
                .end(answer == null ? "{\"error\":\"invalid_client\"}" : answer);
    }

    private void get(HttpServerRequest r) {
        switch (r.path()) {
            case "/tidedesk", "/tidedesk/tokens" -> description(r, TideDesk.wsdl(url()));
            case "/tidedesk/next" -> description(r, TideDesk.nextWsdl(url()));
            case "/dues" -> description(r, SoapText.resource("/dues/dues.wsdl", url()));
            case "/pilotdesk" -> description(r, SoapText.resource("/pilotdesk/pilotdesk.wsdl", url()));
            case "/bulletin" -> description(r, SoapText.resource("/bulletin/bulletin.wsdl", url()));
            case "/berths" ->
                description(
                        r, SoapText.resource("/berths/berths.wsdl", r.isSSL() ? "https://" + r.authority() : url()));
            case "/cargo" -> description(r, SoapText.resource("/cargo/cargo.wsdl", url()));
            case "/protected" -> protectedDescription(r);
            case "/counts" ->
                r.response()
                        .putHeader("content-type", "application/json")
                        .end("{\"requests\":" + requests() + ",\"repeated\":" + repeated() + "}");
            case "/reset" -> {
                requests.set(0);
                byBody.clear();
                r.response().end();
            }
            default -> {
                String file = r.path().matches("/cargo/[\\w./-]+\\.(wsdl|xsd)")
                                && !r.path().contains("..")
                        ? SoapText.resource(r.path(), url())
                        : "";
                if (file.isEmpty()) {
                    r.response().setStatusCode(404).end("There is nothing at " + r.path());
                } else {
                    description(r, file);
                }
            }
        }
    }

    private static void description(HttpServerRequest r, String text) {
        r.response().putHeader("content-type", "text/xml; charset=utf-8").end(text);
    }

    /** A description that only those with the agency's password may see. */
    private void protectedDescription(HttpServerRequest r) {
        String wanted = "Basic "
                + java.util.Base64.getEncoder()
                        .encodeToString("agency:sole".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        if (wanted.equals(r.getHeader("Authorization"))) {
            description(r, TideDesk.wsdl(url()));
        } else {
            r.response()
                    .setStatusCode(401)
                    .putHeader("WWW-Authenticate", "Basic realm=\"harbour\"")
                    .end();
        }
    }

    private void post(HttpServerRequest r, Buffer body) {
        long n = requests.incrementAndGet();
        byte[] bytes = body.getBytes();
        if (settings.countBodies()) {
            byBody.computeIfAbsent(digest(bytes), k -> new AtomicLong()).incrementAndGet();
        }
        if (settings.dropEvery() > 0 && n % settings.dropEvery() == 0) {
            r.connection().close();
            return;
        }
        TideDesk.Answer a = settings.faultEvery() > 0 && n % settings.faultEvery() == 0
                ? TideDesk.fault(
                        "http://schemas.xmlsoap.org/soap/envelope/", false, "The desk is closed for a moment.", "")
                : answer(r.path(), "only=v2".equals(r.query()), bytes);
        if (settings.delayMillis() > 0) {
            vertx.setTimer(settings.delayMillis(), t -> send(r, a));
        } else {
            send(r, a);
        }
    }

    private TideDesk.Answer answer(String path, boolean onlyOld, byte[] request) {
        return switch (path) {
            case "/cargo" -> CargoManifest.answer(request);
            case "/dues" -> HarbourDues.answer(request);
            case "/pilotdesk" -> pilotDesk.answer(request);
            case "/bulletin" -> MarineBulletin.answer(request);
            case "/registry" -> Registry.answer(request, url(), onlyOld);
            case "/berths" -> Optional.ofNullable(gatekeeper.refusal(request)).orElseGet(() -> berths.answer(request));
            case "/tidedesk/secured" ->
                Optional.ofNullable(gatekeeper.refusal(request)).orElseGet(() -> tideDesk.answer(request));
            default -> tideDesk.answer(request);
        };
    }

    private static long digest(byte[] bytes) {
        CRC32 crc = new CRC32();
        crc.update(bytes);
        return (long) Arrays.hashCode(bytes) << 32 | crc.getValue();
    }

    private static void send(HttpServerRequest r, TideDesk.Answer a) {
        r.response()
                .setStatusCode(a.status())
                .putHeader("content-type", a.contentType())
                .end(a.body());
    }

    @Override
    public void close() {
        vertx.close().toCompletionStage().toCompletableFuture().join();
    }
}
