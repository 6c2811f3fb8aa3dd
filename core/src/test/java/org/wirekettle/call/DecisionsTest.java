package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.testng.annotations.Test;
import org.wirekettle.call.Exchange.Outcome;

/** What may be called, what may be repeated, and what a call came to. */
public class DecisionsTest {
    private static final HostPolicy LOOPBACK = HostPolicy.of("loopback");

    @Test
    public void onlyWhatCannotHaveArrivedOrIsSafeIsRepeated() {
        assertEquals(again(false, failed(Outcome.UNREACHABLE, FailureCode.REFUSED), 1), Optional.of(200L));
        assertEquals(again(false, failed(Outcome.UNREACHABLE, FailureCode.REFUSED), 2), Optional.of(400L));
        assertEquals(again(false, failed(Outcome.UNREACHABLE, FailureCode.REFUSED), 3), Optional.empty());
        assertEquals(again(false, failed(Outcome.UNREACHABLE, FailureCode.TLS_NAME), 1), Optional.empty());
        assertEquals(again(false, failed(Outcome.UNREACHABLE, FailureCode.NOT_ALLOWED), 1), Optional.empty());
        assertEquals(again(false, failed(Outcome.IN_DOUBT, FailureCode.RESET), 1), Optional.empty());
        assertEquals(again(true, failed(Outcome.IN_DOUBT, FailureCode.RESET), 1), Optional.of(200L));
        assertEquals(again(true, answered(200), 1), Optional.empty());
        assertEquals(again(false, answered(500), 1), Optional.empty(), "it may have been worked on");
        assertEquals(again(false, answered(503), 1), Optional.of(200L));
        assertEquals(again(false, answered(429, "Retry-After", "7"), 1), Optional.of(7_000L), "the service says when");
        assertEquals(again(false, answered(503, "Retry-After", "3600"), 1), Optional.empty(), "that is too long");
        assertEquals(
                again(false, answered(503, "Retry-After", "Thu, 01 Jan 1970 00:00:09 GMT"), 1), Optional.of(9_000L));
        assertEquals(again(false, answered(503, "Retry-After", "soon"), 1), Optional.of(200L));
        RetryPolicy resets = new RetryPolicy(1, false, 500, List.of("connect time-out"));
        Exchange late = failed(Outcome.UNREACHABLE, FailureCode.CONNECT_TIMEOUT);
        assertEquals(resets.again(late, 1, 0, Instant.EPOCH), Optional.of(375L), "at least");
        assertEquals(resets.again(late, 1, 1, Instant.EPOCH), Optional.of(625L), "at most");
        assertEquals(
                resets.again(failed(Outcome.UNREACHABLE, FailureCode.REFUSED), 1, 0, Instant.EPOCH), Optional.empty());
    }

    private static Optional<Long> again(boolean isSafe, Exchange x, int attempt) {
        return new RetryPolicy(2, isSafe).again(x, attempt, 0.5, Instant.EPOCH);
    }

    private static Exchange failed(Outcome outcome, FailureCode code) {
        return new Exchange(outcome, "", List.of(), new byte[0], 0, List.of(), new byte[0], "no", 0, 0).because(code);
    }

    private static Exchange answered(int status, String... header) {
        return Exchange.kept(
                status, new byte[0], header.length == 0 ? List.of() : List.<String[]>of(header), new byte[0]);
    }

    private static String allowance(String allowed, String address) throws Exception {
        return HostPolicy.of(allowed).allowance("some.host", 443, new InetAddress[] {InetAddress.getByName(address)});
    }

    @Test
    public void whatIsAllowedIsToldWithItsRule() throws Exception {
        assertEquals(allowance("some.host", "10.0.0.1"), "the allow-list has some.host");
        assertEquals(allowance("loopback", "127.0.0.1"), "this machine, since loopback is on the allow-list");
        assertEquals(allowance("private", "10.0.0.1"), "a private network, since private is on the allow-list");
        assertEquals(allowance("", "93.184.216.34"), "a public address");
    }

    private static String refusal(String allowed, String address) throws Exception {
        return HostPolicy.of(allowed).refusal("some.host", 443, new InetAddress[] {InetAddress.getByName(address)});
    }

    @Test
    public void theListTakesHostsPortsDomainsAndNetworks() throws Exception {
        for (String good : new String[] {"some.host", "some.host:443", ".host", "10.1.0.0/16", "private", "10.1.2.3"}) {
            String host = good.equals("10.1.2.3") ? good : "some.host";
            assertNull(HostPolicy.of("other," + good).refusal(host, 443, at("10.1.2.3")), good);
        }
        for (String none : new String[] {
            "some.host:8443",
            "host",
            ".some.host",
            "10.2.0.0/16",
            "10.1.2.4/32",
            "a b",
            "",
            "some.host:99999",
            "10.1.0.0/64"
        }) {
            assertNotNull(HostPolicy.of(none).refusal("some.host", 443, at("10.1.2.3")), none);
        }
        assertNull(HostPolicy.of("fd00::/8").refusal("some.host", 443, at("fd12::1")));
        assertNotNull(HostPolicy.of("fd00::/8").refusal("some.host", 443, at("10.1.2.3")));
        assertNull(HostPolicy.of("10.1.0.0/16").refusal("some.host", 443, at("10.1.255.255")));
        assertNotNull(
                HostPolicy.of("10.1.0.0/16").refusal("some.host", 443, at("10.1.0.1", "10.2.0.1")), "all of them");
    }

    @Test
    public void whereOnlyWhatIsListedIsCalledPublicAddressesAreListedToo() throws Exception {
        HostPolicy strict = HostPolicy.of("listed-only,berths.example");
        assertNull(strict.refusal("berths.example", 443, at("93.184.216.34")));
        String why = strict.refusal("other.example", 443, at("93.184.216.34"));
        assertTrue(why.startsWith("only hosts on the allow-list are called"), why);
    }

    @Test
    public void aListThatChangesCountsAtOnce() throws Exception {
        String[] list = {""};
        HostPolicy p = HostPolicy.following(() -> list[0]);
        assertNotNull(p.refusal("some.host", 443, at("10.1.2.3")));
        list[0] = "some.host";
        assertNull(p.refusal("some.host", 443, at("10.1.2.3")));
    }

    private static InetAddress[] at(String... addresses) throws Exception {
        InetAddress[] out = new InetAddress[addresses.length];
        for (int i = 0; i < out.length; i++) {
            out[i] = InetAddress.getByName(addresses[i]);
        }
        return out;
    }

    @Test
    public void innerAddressesAreRefusedUnlessAllowed() throws Exception {
        for (String inner : new String[] {
            "127.0.0.1",
            "::1",
            "0.0.0.0",
            "10.1.2.3",
            "192.168.1.1",
            "172.20.0.1",
            "169.254.169.254",
            "fd00::1",
            "fe80::1",
            "::ffff:127.0.0.1",
            "100.64.0.1",
            "100.127.255.254",
            "0.1.2.3",
            "198.18.0.1",
            "192.0.0.8",
            "172.31.255.255",
            "fec0::1",
            "::ffff:10.0.0.1",
            "::127.0.0.1",
            "64:ff9b::127.0.0.1",
            "64:ff9b::a00:1",
            "2002:7f00:1::",
            "2002:c0a8:101::1",
            "2001:0:1:2:3:4:80ff:fffe",
            "::"
        }) {
            assertNotNull(refusal("", inner), inner);
        }
        for (String nobody : new String[] {
            "224.0.0.1", "239.255.255.255", "255.255.255.255", "240.0.0.1", "ff02::1", "64:ff9b::e000:1"
        }) {
            assertNotNull(refusal("loopback,private", nobody), nobody);
        }
        for (String outer : new String[] {
            "198.51.100.7",
            "100.128.0.1",
            "100.63.255.255",
            "172.32.0.1",
            "11.0.0.1",
            "2001:db8::1",
            "64:ff9b::c633:6407",
            "2002:c633:6407::1"
        }) {
            assertNull(refusal("", outer), outer);
        }
        assertNull(refusal("loopback", "64:ff9b::127.0.0.1"));
        assertNull(refusal("loopback", "127.0.0.1"));
        assertNotNull(refusal("loopback", "10.1.2.3"));
        assertNull(refusal("private", "10.1.2.3"));
        assertNull(refusal("Some.Host", "10.1.2.3"));
    }

    private static Exchange post(String url, int callTimeoutMillis, int maxBytes) {
        try (HttpCaller c = new HttpCaller(
                HttpSettings.to(url)
                        .loggingIn(HttpLogIn.basic("mira", "pass"))
                        .limited(HttpLimits.USUAL
                                .within(500, callTimeoutMillis)
                                .atATime(1)
                                .atMost(maxBytes)),
                LOOPBACK)) {
            return c.post("text/xml", List.of(), "<a/>".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
    }

    @Test
    public void outcomesTellSentFromUnsent() throws Exception {
        assertEquals(post("http://127.0.0.1:1/", 500, 1000).outcome(), Outcome.UNREACHABLE);
        assertTrue(post("http://127.0.0.1:1/", 500, 1000).problem().contains("connection refused"));
        try (ServerSocket silent = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            Exchange x = post("http://127.0.0.1:" + silent.getLocalPort() + "/", 200, 1000);
            assertEquals(x.outcome(), Outcome.IN_DOUBT);
            assertEquals(x.problem(), "no answer within 200 ms");
        }
        try (HttpCaller guarded = new HttpCaller(HttpSettings.to("http://127.0.0.1:1/"), HostPolicy.of(""))) {
            Exchange x = guarded.get();
            assertEquals(x.outcome(), Outcome.UNREACHABLE);
            assertTrue(x.problem().contains("are not allowed"), x.problem());
        }
        expectThrows(IllegalArgumentException.class, () -> new HttpCaller(HttpSettings.to("ftp://x/"), LOOPBACK));
    }

    @Test
    public void documentsAreFetchedOverRedirectsButNotForEver() throws Exception {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", e -> {
            String path = e.getRequestURI().getPath();
            if (path.equals("/there")) {
                e.sendResponseHeaders(200, 2);
                e.getResponseBody().write("ok".getBytes(java.nio.charset.StandardCharsets.UTF_8));
            } else {
                e.getResponseHeaders().set("Location", path.equals("/here") ? "there" : "/loop");
                e.sendResponseHeaders(302, -1);
            }
            e.close();
        });
        server.start();
        try {
            String url = "http://127.0.0.1:" + server.getAddress().getPort();
            assertEquals(
                    new String(new DocumentFetch(LOOPBACK).get(url + "/here"), java.nio.charset.StandardCharsets.UTF_8),
                    "ok");
            assertEquals(
                    expectThrows(java.io.IOException.class, () -> new DocumentFetch(LOOPBACK).get(url + "/loop"))
                            .getMessage(),
                    "the address leads on more than 5 times");
            assertTrue(expectThrows(
                            java.io.IOException.class, () -> new DocumentFetch(HostPolicy.of("")).get(url + "/there"))
                    .getMessage()
                    .contains("not allowed"));
        } finally {
            server.stop(0);
        }
    }

    @Test
    public void answersAreReadMaskedAndLimited() throws Exception {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", e -> {
            byte[] body = ("seen " + e.getRequestHeaders().getFirst("Authorization"))
                    .getBytes(java.nio.charset.StandardCharsets.UTF_8);
            e.sendResponseHeaders(e.getRequestURI().getPath().equals("/moved") ? 302 : 200, body.length);
            e.getResponseBody().write(body);
            e.close();
        });
        server.start();
        try {
            String url = "http://127.0.0.1:" + server.getAddress().getPort();
            Exchange x = post(url + "/", 1000, 1000);
            assertEquals(new String(x.answer(), java.nio.charset.StandardCharsets.UTF_8), "seen Basic bWlyYTpwYXNz");
            assertTrue(
                    x.requestHeaders().stream().anyMatch(h -> h[0].equals("Authorization") && h[1].equals("•••")),
                    "what is shown is masked");
            assertEquals(post(url + "/moved", 1000, 1000).status(), 302, "a POST is never redirected silently");
            assertTrue(post(url + "/", 1000, 5).problem().contains("longer than 5 bytes"));
        } finally {
            server.stop(0);
        }
    }

    @Test
    public void anAddressThatNeverAnswersEndsInWords() throws Exception {
        try (java.net.ServerSocket silent =
                new java.net.ServerSocket(0, 5, java.net.InetAddress.getLoopbackAddress())) {
            DocumentFetch fetch = new DocumentFetch(HostPolicy.of("loopback"), 300, () -> TlsTrust.SYSTEM);
            java.io.IOException e = org.testng.Assert.expectThrows(
                    java.io.IOException.class, () -> fetch.get("http://127.0.0.1:" + silent.getLocalPort() + "/wsdl"));
            assertTrue(e.getMessage().contains("300 ms") || e.getMessage().contains("time"), e.getMessage());
        }
    }

    @Test
    public void anAnswersDeclaredCharsetIsHeededUnlessTheXmlSaysItsOwn() {
        byte[] latin = "<a>f\u00fcr</a>".getBytes(java.nio.charset.StandardCharsets.ISO_8859_1);
        assertEquals(
                new String(
                        DeclaredCharset.utf8(latin, "text/xml; charset=ISO-8859-1"),
                        java.nio.charset.StandardCharsets.UTF_8),
                "<a>f\u00fcr</a>");
        byte[] declared = "<?xml version='1.0' encoding='ISO-8859-1'?><a>f\u00fcr</a>"
                .getBytes(java.nio.charset.StandardCharsets.ISO_8859_1);
        assertTrue(DeclaredCharset.utf8(declared, "text/xml; charset=utf-16") == declared);
        assertTrue(DeclaredCharset.utf8(latin, "text/xml; charset=nonsense") == latin);
        assertTrue(DeclaredCharset.utf8(latin, null) == latin);
        assertTrue(org.wirekettle.xml.XmlText.decoded(declared).endsWith("f\u00fcr</a>"));
    }

    @Test
    public void aLogInGoesToItsOwnOriginOnly() {
        assertTrue(
                DocumentFetch.isSameOrigin("https://Tides.example.net/a?wsdl", "https://tides.example.net:443/b.xsd"));
        for (String other : new String[] {
            "http://tides.example.net/a",
            "https://tides.example.net:8443/a",
            "https://tides.example.net.evil.example/a",
            "https://tides.example.net@evil.example/a",
            "//tides.example.net/a"
        }) {
            org.testng.Assert.assertFalse(DocumentFetch.isSameOrigin("https://tides.example.net/a", other), other);
        }
    }
}
