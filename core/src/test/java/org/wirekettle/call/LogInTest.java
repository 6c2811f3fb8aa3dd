package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Base64;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange.Outcome;

/** Ways of logging in over HTTP, at a service that checks what it is sent. */
public class LogInTest {
    private static final String USER = "gannet";
    private static final String PASSWORD = "s3cret & more";
    private static final String NONCE = "f84f1cec41e6cbe5aea9c8e88d359";

    private HttpServer server;
    private ExecutorService threads;
    private final AtomicInteger tokens = new AtomicInteger();
    private final AtomicInteger calls = new AtomicInteger();
    private volatile int life = 3_600;
    private volatile String valid = "";
    private volatile String lastKey;
    private final CountDownLatch asked = new CountDownLatch(1);

    @BeforeMethod
    public void open() throws IOException {
        tokens.set(0);
        calls.set(0);
        life = 3_600;
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        threads = Executors.newCachedThreadPool();
        server.setExecutor(threads);
        server.createContext("/token", this::token);
        server.createContext("/slow", x -> {
            tokens.incrementAndGet();
            sleep(400);
            answer(x, 503, "");
        });
        server.createContext("/never", x -> {
            asked.countDown();
            sleep(4_500);
            answer(x, 503, "");
        });
        server.createContext("/bearer", x -> {
            calls.incrementAndGet();
            String sent = x.getRequestHeaders().getFirst("Authorization");
            boolean isGood = ("Bearer " + valid).equals(sent);
            answer(x, isGood ? 200 : 401, "you sent " + sent);
        });
        server.createContext("/key", x -> {
            lastKey = x.getRequestHeaders().getFirst("X-Api-Key");
            answer(x, 200, "ok");
        });
        server.createContext("/md5", x -> digest(x, "MD5"));
        server.createContext("/sha", x -> digest(x, "SHA-256"));
        server.start();
    }

    @AfterMethod(alwaysRun = true)
    public void close() {
        server.stop(0);
        threads.shutdownNow();
    }

    private static void sleep(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static void answer(HttpExchange x, int status, String body) throws IOException {
        try (x) {
            x.getRequestBody().readAllBytes();
            byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
            x.sendResponseHeaders(status, bytes.length);
            x.getResponseBody().write(bytes);
        }
    }

    private void token(HttpExchange x) throws IOException {
        String body = new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
        String client = x.getRequestHeaders().getFirst("Authorization").replace("Basic ", "");
        boolean isKnown =
                new String(Base64.getDecoder().decode(client), StandardCharsets.UTF_8).equals("gannet:s3cret+%26+more");
        if (!isKnown || !body.equals("grant_type=client_credentials&scope=berths%3Aread")) {
            answer(x, 401, "{\"error\":\"invalid_client\",\"error_description\":\"nobody knows you\"}");
            return;
        }
        valid = "token-number-" + tokens.incrementAndGet();
        answer(x, 200, "{\"access_token\":\"" + valid + "\",\"token_type\":\"bearer\",\"expires_in\":" + life + "}");
    }

    /** RFC 7616 §3.4, computed here. */
    private void digest(HttpExchange x, String algorithm) throws IOException {
        calls.incrementAndGet();
        String sent = x.getRequestHeaders().getFirst("Authorization");
        if (sent == null) {
            x.getResponseHeaders()
                    .add(
                            "WWW-Authenticate",
                            "Digest realm=\"harbour\", qop=\"auth\", algorithm=" + algorithm + ", nonce=\"" + NONCE
                                    + "\"");
            answer(x, 401, "");
            return;
        }
        Map<String, String> said = new HashMap<>();
        Matcher m = Pattern.compile("(\\w+)=\"?([^\",]*)\"?").matcher(sent);
        while (m.find()) {
            said.put(m.group(1), m.group(2));
        }
        String one = hash(algorithm, USER + ":harbour:" + PASSWORD);
        String two = hash(algorithm, x.getRequestMethod() + ":" + said.get("uri"));
        String wanted =
                hash(algorithm, String.join(":", one, NONCE, said.get("nc"), said.get("cnonce"), said.get("qop"), two));
        answer(x, wanted.equals(said.get("response")) && said.get("username").equals(USER) ? 200 : 403, "");
    }

    private static String hash(String algorithm, String text) {
        try {
            return HexFormat.of()
                    .formatHex(MessageDigest.getInstance(algorithm).digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (java.security.NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    private String url(String path) {
        return "http://127.0.0.1:" + server.getAddress().getPort() + path;
    }

    private HttpCaller caller(String path, HttpLogIn logIn) {
        HttpSettings settings = HttpSettings.to(url(path))
                .loggingIn(logIn)
                .limited(HttpLimits.USUAL.within(1_000, 5_000).atMost(100_000));
        return new HttpCaller(settings, HostPolicy.of("loopback"));
    }

    private HttpLogIn oauth() {
        return oauth(url("/token"), "berths:read");
    }

    private static HttpLogIn oauth(String url, String scope) {
        return HttpLogIn.oauth(USER, PASSWORD, new HttpLogIn.TokenPlace(url, scope, null));
    }

    private static Exchange call(HttpCaller c) {
        return c.post("text/xml", List.of(), "<a/>".getBytes(StandardCharsets.UTF_8));
    }

    private static String all(Exchange x) {
        StringBuilder out = new StringBuilder();
        x.requestHeaders()
                .forEach(h -> out.append(h[0]).append(' ').append(h[1]).append('\n'));
        return out + new String(x.shown().answer(), StandardCharsets.UTF_8) + x.problem();
    }

    @Test
    public void digestProvesThePasswordWithoutSendingIt() {
        for (String path : List.of("/md5", "/sha")) {
            try (HttpCaller c = caller(path, HttpLogIn.of(HttpLogIn.Kind.DIGEST, USER, PASSWORD));
                    HttpCaller wrong = caller(path, HttpLogIn.of(HttpLogIn.Kind.DIGEST, USER, "another"))) {
                assertEquals(call(c).status(), 200, path);
                assertEquals(call(wrong).status(), 403, path);
            }
        }
    }

    @Test
    public void aTokenOrAKeyIsSentAsItIsAndShownNowhere() {
        valid = PASSWORD;
        try (HttpCaller bearer = caller("/bearer", HttpLogIn.of(HttpLogIn.Kind.BEARER, null, PASSWORD));
                HttpCaller key = caller("/key", HttpLogIn.key(HttpLogIn.Kind.KEY, "X-Api-Key", "k-1234567"))) {
            Exchange x = call(bearer);
            assertEquals(x.status(), 200);
            assertFalse(all(x).contains(PASSWORD), all(x));
            Exchange y = call(key);
            assertEquals(lastKey, "k-1234567");
            assertFalse(all(y).contains("k-1234567"), all(y));
        }
    }

    @Test
    public void aTokenIsHadOnceForManyAndAnewBeforeItEnds() throws Exception {
        try (HttpCaller c = caller("/bearer", oauth())) {
            List<CompletableFuture<Exchange>> many = IntStream.range(0, 20)
                    .mapToObj(i -> CompletableFuture.supplyAsync(() -> call(c), threads))
                    .toList();
            for (CompletableFuture<Exchange> f : many) {
                assertEquals(f.get().status(), 200);
                assertFalse(all(f.get()).contains("token-number"), all(f.get()));
            }
            assertEquals(tokens.get(), 1);
        }
        life = 31;
        try (HttpCaller c = caller("/bearer", oauth())) {
            assertEquals(call(c).status(), 200);
            Thread.sleep(1_100);
            assertEquals(call(c).status(), 200);
            assertEquals(tokens.get(), 3, "it would have ended within its margin");
        }
    }

    @Test
    public void aTokenThatIsRefusedIsHadAnewOnce() {
        try (HttpCaller c = caller("/bearer", oauth())) {
            assertEquals(call(c).status(), 200);
            valid = "another that the service alone knows";
            assertEquals(call(c).status(), 200, "the new token counts");
            assertEquals(calls.get(), 3);
        }
    }

    @Test
    public void whoWaitedWhileNoTokenCouldBeHadDoesNotAskAgain() throws Exception {
        try (HttpCaller c = caller("/bearer", oauth(url("/slow"), null))) {
            List<CompletableFuture<Exchange>> many = IntStream.range(0, 8)
                    .mapToObj(i -> CompletableFuture.supplyAsync(() -> call(c), threads))
                    .toList();
            for (CompletableFuture<Exchange> f : many) {
                assertEquals(f.get().outcome(), Outcome.UNREACHABLE);
            }
            assertTrue(tokens.get() <= 2, tokens + " times asked");
        }
    }

    @Test
    public void stoppingEndsTheQuestionForAToken() throws Exception {
        try (HttpCaller c = caller("/bearer", oauth(url("/never"), null))) {
            CompletableFuture<Exchange> waiting = CompletableFuture.supplyAsync(() -> call(c), threads);
            asked.await();
            c.abort();
            assertEquals(waiting.get(3, TimeUnit.SECONDS).outcome(), Outcome.UNREACHABLE);
        }
    }

    @Test
    public void withoutATokenNothingIsSent() {
        try (HttpCaller c = caller("/bearer", HttpLogIn.oauth(USER, "wrong", oauth().tokens()))) {
            Exchange x = call(c);
            assertEquals(x.outcome(), Outcome.UNREACHABLE);
            assertEquals(x.problem(), "no token could be had: HTTP status 401, nobody knows you");
            assertEquals(calls.get(), 0);
        }
        HttpLogIn nowhere = oauth("http://192.168.1.1/token", null);
        try (HttpCaller c = caller("/bearer", nowhere)) {
            assertTrue(call(c).problem().contains("calls to private addresses"), call(c).problem());
        }
    }
}
