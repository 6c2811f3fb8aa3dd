package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange.Outcome;

/** Requests as services want them, looked at as they arrive. */
public class HttpMannerTest {
    private static final byte[] BODY = "<a>größer</a>".getBytes(StandardCharsets.UTF_8);
    private static final HostPolicy POLICY = HostPolicy.of("loopback");

    private HttpServer server;
    private HttpServer elsewhere;
    private ExecutorService threads;
    private final List<Seen> seen = Collections.synchronizedList(new ArrayList<>());

    private record Seen(String method, String uri, com.sun.net.httpserver.Headers headers, byte[] body, int port) {
        String header(String name) {
            return headers.getFirst(name);
        }
    }

    @BeforeMethod
    public void start() throws IOException {
        seen.clear();
        threads = Executors.newCachedThreadPool();
        server = started();
        elsewhere = started();
    }

    @AfterMethod(alwaysRun = true)
    public void stop() {
        server.stop(0);
        elsewhere.stop(0);
        threads.shutdownNow();
    }

    private HttpServer started() throws IOException {
        HttpServer out = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        out.setExecutor(threads);
        out.createContext("/", this::answer);
        out.start();
        return out;
    }

    private void answer(HttpExchange e) throws IOException {
        seen.add(new Seen(
                e.getRequestMethod(),
                e.getRequestURI().toString(),
                e.getRequestHeaders(),
                e.getRequestBody().readAllBytes(),
                e.getRemoteAddress().getPort()));
        String path = e.getRequestURI().getPath();
        byte[] answer = "<ok/>".getBytes(StandardCharsets.UTF_8);
        if (path.startsWith("/to/")) {
            String[] parts = path.split("/", 4);
            String there = parts[3].equals("elsewhere") ? url(elsewhere, "/there") : "/" + parts[3];
            e.getResponseHeaders().set("Location", there);
            e.sendResponseHeaders(Integer.parseInt(parts[2]), -1);
        } else {
            if (path.equals("/gzip")) {
                e.getResponseHeaders().set("Content-Encoding", "gzip");
                ByteArrayOutputStream out = new ByteArrayOutputStream();
                try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
                    zip.write(answer);
                }
                answer = out.toByteArray();
            } else if (path.equals("/deflate")) {
                e.getResponseHeaders().set("Content-Encoding", "deflate");
                ByteArrayOutputStream out = new ByteArrayOutputStream();
                try (DeflaterOutputStream zip = new DeflaterOutputStream(out)) {
                    zip.write(answer);
                }
                answer = out.toByteArray();
            } else if (path.equals("/cookie")) {
                e.getResponseHeaders().set("Set-Cookie", "berth=7; Path=/");
            }
            e.sendResponseHeaders(200, answer.length);
            e.getResponseBody().write(answer);
        }
        e.close();
    }

    private static String url(HttpServer of, String path) {
        return "http://127.0.0.1:" + of.getAddress().getPort() + path;
    }

    private HttpSettings to(String path) {
        return HttpSettings.to(url(server, path));
    }

    private static HttpManner manner(String... on) {
        List<String> is = List.of(on);
        return new HttpManner(
                List.of(),
                is.contains("packed"),
                is.contains("chunked"),
                is.contains("announced"),
                is.contains("following"),
                is.contains("closing"),
                is.contains("cookies"),
                StandardCharsets.UTF_8,
                HttpManner.USER_AGENT);
    }

    private static Exchange post(HttpSettings settings) {
        try (HttpCaller c = new HttpCaller(settings, POLICY)) {
            return c.post("text/xml", List.of(), BODY);
        }
    }

    private Seen last() {
        return seen.get(seen.size() - 1);
    }

    @Test
    public void asUsualARequestGoesWithItsLengthAndNothingElse() {
        Exchange x = post(to("/"));
        assertEquals(last().header("Content-Length"), String.valueOf(BODY.length));
        assertNull(last().header("Transfer-Encoding"));
        assertNull(last().header("Expect"));
        assertNull(last().header("Content-Encoding"));
        assertEquals(last().header("User-Agent"), "Wire Kettle");
        assertEquals(last().body(), BODY);
        assertEquals(x.status(), 200);
    }

    @Test
    public void packedRequestsArePackedAndShownAsTheyWereMeant() throws IOException {
        Exchange x = post(to("/").in(manner("packed")));
        assertEquals(last().header("Content-Encoding"), "gzip");
        byte[] open = new GZIPInputStream(new ByteArrayInputStream(last().body())).readAllBytes();
        assertEquals(open, BODY);
        assertEquals(x.request(), BODY);
    }

    @Test
    public void inChunksNoLengthIsSaid() {
        post(to("/").in(manner("chunked")));
        assertEquals(last().header("Transfer-Encoding"), "chunked");
        assertNull(last().header("Content-Length"));
        assertEquals(last().body(), BODY);
        post(to("/").in(manner("chunked", "announced")));
        assertEquals(last().header("Expect"), "100-continue");
        assertEquals(last().body(), BODY);
    }

    @DataProvider
    Object[][] packings() {
        return new Object[][] {{"/gzip"}, {"/deflate"}};
    }

    @Test(dataProvider = "packings")
    public void packedAnswersAreRead(String path) {
        Exchange x = post(to(path));
        assertEquals(new String(x.answer(), StandardCharsets.UTF_8), "<ok/>");
        assertTrue(last().header("Accept-Encoding").contains("gzip"));
    }

    @Test
    public void cookiesAreSentBackOnlyIfAsked() {
        for (String how : List.of("cookies", "none")) {
            try (HttpCaller c = new HttpCaller(to("/cookie").in(manner(how)), POLICY)) {
                c.post("text/xml", List.of(), BODY);
                c.post("text/xml", List.of(), BODY);
            }
            assertEquals(last().header("Cookie"), how.equals("cookies") ? "berth=7" : null);
        }
    }

    @Test
    public void aConnectionIsKeptUnlessItIsToBeClosedEachTime() {
        for (String how : List.of("closing", "none")) {
            seen.clear();
            try (HttpCaller c = new HttpCaller(to("/").in(manner(how)), POLICY)) {
                c.post("text/xml", List.of(), BODY);
                c.post("text/xml", List.of(), BODY);
            }
            assertEquals(seen.get(0).port() == seen.get(1).port(), how.equals("none"), how);
        }
    }

    @Test
    public void furtherHeadersGoWithEachRequestAndSecretOnesAreShownToNobody() {
        HttpManner two = HttpManner.USUAL.with(List.of(
                new HttpManner.Header("X-Agency", "gannet", false),
                new HttpManner.Header("X-Desk-Key", "k-7741-tallow", true)));
        Exchange x = post(to("/").in(two));
        assertEquals(last().header("X-Agency") + last().header("X-Desk-Key"), "gannetk-7741-tallow");
        String shown =
                x.requestHeaders().stream().map(h -> h[0] + "=" + h[1]).toList().toString();
        assertTrue(shown.contains("X-Agency=gannet") && shown.contains("X-Desk-Key=•••"), shown);
    }

    @Test
    public void aKeyInTheAddressIsMaskedWhereTheAddressIsShown() {
        HttpSettings s = to("/?of=berths").loggingIn(HttpLogIn.key(HttpLogIn.Kind.QUERY_KEY, "api key", "s3cret&key"));
        Exchange x = post(s);
        assertEquals(last().uri(), "/?of=berths&api+key=s3cret%26key");
        assertFalse(x.url().contains("s3cret"), x.url());
        assertTrue(x.url().endsWith("/?of=berths&api+key=•••"), x.url());
    }

    @Test
    public void redirectsAreAnAnswerUnlessTheyAreToBeFollowed() {
        assertEquals(post(to("/to/307/there")).status(), 307);
        assertEquals(seen.size(), 1);
        for (String status : List.of("301", "302", "307", "308")) {
            Exchange x = post(to("/to/" + status + "/there").in(manner("following")));
            assertEquals(x.status() + " " + last().method() + " " + last().uri(), "200 POST /there");
            assertEquals(last().body(), BODY, "the same request");
            assertTrue(x.url().endsWith("/there"), x.url());
        }
        assertEquals(post(to("/to/303/there").in(manner("following"))).status(), 303, "its answer is elsewhere");
        seen.clear();
        assertEquals(post(to("/to/307/to/307/to").in(manner("following"))).status(), 200);
        assertEquals(post(to("/to/307/to/307/to").in(manner("following"))).outcome(), Outcome.ANSWERED);
    }

    @Test
    public void whereRedirectsAreACircleTheyEnd() {
        server.removeContext("/");
        server.createContext("/", e -> {
            seen.add(new Seen("", "", e.getRequestHeaders(), new byte[0], 0));
            e.getRequestBody().readAllBytes();
            e.getResponseHeaders().set("Location", "/again");
            e.sendResponseHeaders(307, -1);
            e.close();
        });
        assertEquals(post(to("/").in(manner("following"))).status(), 307);
        assertEquals(seen.size(), 1 + Redirects.MAX);
    }

    @DataProvider
    Object[][] secrets() {
        return new Object[][] {
            {HttpLogIn.basic("mira", "sole-of-the-reach"), "Authorization"},
            {HttpLogIn.of(HttpLogIn.Kind.BEARER, null, "sole-of-the-reach"), "Authorization"},
            {HttpLogIn.key(HttpLogIn.Kind.KEY, "X-Key", "sole-of-the-reach"), "X-Key"},
        };
    }

    @Test(dataProvider = "secrets")
    public void secretsGoToNoOtherOrigin(HttpLogIn logIn, String header) {
        HttpManner following = manner("following")
                .with(List.of(
                        new HttpManner.Header("X-Agency", "gannet", false),
                        new HttpManner.Header("X-Other", "s3cret", true)));
        Exchange x = post(to("/to/307/elsewhere").loggingIn(logIn).in(following));
        assertEquals(x.status(), 200);
        assertEquals(seen.size(), 2);
        assertTrue(seen.get(0).headers().containsKey(header));
        assertFalse(last().headers().containsKey(header), last().headers().toString());
        assertFalse(last().headers().containsKey("X-Other"));
        assertEquals(last().header("X-Agency"), "gannet");
        post(to("/to/307/there").loggingIn(logIn).in(following));
        assertTrue(last().headers().containsKey(header), "at home it goes along");
    }

    @Test
    public void aMessageWithItsLogInInsideIsNotTakenElsewhere() {
        MessageSettings inside = new MessageSettings(false, org.wirekettle.soap.Security.Token.TEXT, false);
        Exchange x = post(to("/to/307/elsewhere")
                .loggingIn(HttpLogIn.basic("mira", "pw"))
                .saying(inside)
                .in(manner("following")));
        assertEquals(x.status() + " " + seen.size(), "307 1");
    }

    @Test
    public void basicIsAskedForFirstWhereThatIsWanted() {
        server.removeContext("/");
        server.createContext("/", e -> {
            String said = e.getRequestHeaders().getFirst("Authorization");
            seen.add(new Seen("", "", e.getRequestHeaders(), e.getRequestBody().readAllBytes(), 0));
            e.getResponseHeaders().set("WWW-Authenticate", "Basic realm=\"berths\"");
            e.sendResponseHeaders(said == null ? 401 : 200, -1);
            e.close();
        });
        Exchange x = post(to("/").loggingIn(HttpLogIn.of(HttpLogIn.Kind.BASIC_ASKED, "mira", "pw")));
        assertEquals(x.status() + " " + seen.size(), "200 2");
        assertEquals(last().header("Authorization"), "Basic bWlyYTpwdw==");
        assertEquals(last().body(), BODY);
    }

    @Test
    public void requestsCanBeInAnotherEncodingWithReferencesForWhatItHasNot() {
        byte[] utf8 = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<a>größer €𝄞</a>".getBytes(StandardCharsets.UTF_8);
        Charset latin = StandardCharsets.ISO_8859_1;
        assertEquals(
                new String(DeclaredCharset.encoded(utf8, latin), latin),
                "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>\n<a>größer &#x20ac;&#x1d11e;</a>");
        assertEquals(DeclaredCharset.encoded(utf8, StandardCharsets.UTF_8), utf8);
        assertTrue(new String(DeclaredCharset.encoded(utf8, StandardCharsets.UTF_16), StandardCharsets.UTF_16)
                .endsWith("<a>größer €𝄞</a>"));
    }
}
