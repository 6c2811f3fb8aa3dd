package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsParameters;
import com.sun.net.httpserver.HttpsServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Collectors;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.TrustManagerFactory;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.call.Certificates;
import org.wirekettle.call.ConnectionProbe;
import org.wirekettle.call.ConnectionProbe.StageState;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpLogIn;
import org.wirekettle.call.HttpProxy;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.call.OwnCertificate;
import org.wirekettle.call.TlsSettings;
import org.wirekettle.call.TlsTrust;
import org.wirekettle.demo.Authority;
import org.wirekettle.demo.DemoServer;
import org.wirekettle.demo.Proxy;

/** Ways to services that are not straight: proxies, NTLM, certificates on both sides. */
public class WaysThereTest {
    private static final HostPolicy LOOPBACK = HostPolicy.of("loopback");
    private static final byte[] BODY = "<a/>".getBytes(StandardCharsets.UTF_8);
    private static final String PASSWORD = "way-out-7";

    private Authority authority;
    private DemoServer services;
    private int tlsPort;

    @BeforeClass
    void start() throws Exception {
        authority = new Authority();
        services = TideFlow.services(0, 0);
        tlsPort = services.listenWithTls(
                0, Authority.bytes(authority.service(Instant.now().plus(Duration.ofDays(90)), "127.0.0.1")));
    }

    @AfterClass(alwaysRun = true)
    void stop() {
        services.close();
    }

    private TlsSettings trusting() {
        return TlsSettings.USUAL.trusting(new TlsTrust(true, List.of(authority.certificate())));
    }

    private static Exchange post(HttpSettings s) {
        try (HttpCaller c = new HttpCaller(s, LOOPBACK)) {
            return c.post("text/xml", List.of(), BODY);
        }
    }

    private static Exchange get(HttpSettings s, HostPolicy policy) {
        try (HttpCaller c = new HttpCaller(s, policy)) {
            return c.get();
        }
    }

    private static HttpProxy by(Proxy proxy, String password, String... except) {
        return HttpProxy.of("127.0.0.1:" + proxy.port(), "gannet", password, List.of(except));
    }

    @Test
    public void callsGoThroughAProxyWhoseLogInStaysWithIt() throws Exception {
        HttpSettings plain = HttpSettings.to(services.url() + "/tidedesk?wsdl");
        HttpSettings tls = HttpSettings.to("https://127.0.0.1:" + tlsPort + "/tidedesk?wsdl")
                .securedBy(trusting());
        try (Proxy proxy = new Proxy(0, "gannet", PASSWORD)) {
            for (HttpSettings s : List.of(plain, tls)) {
                Exchange x = get(s.through(by(proxy, PASSWORD)), LOOPBACK);
                assertEquals(x.status(), 200, x.problem());
                assertFalse(x.requestHeaders().toString().contains(PASSWORD));
            }
            assertTrue(
                    proxy.asked().contains("CONNECT 127.0.0.1:" + tlsPort),
                    proxy.asked().toString());
            assertTrue(
                    proxy.asked().contains("GET " + services.url() + "/tidedesk?wsdl"),
                    proxy.asked().toString());
            int before = proxy.asked().size();
            assertEquals(
                    get(plain.through(by(proxy, PASSWORD, "127.0.0.1")), LOOPBACK)
                            .status(),
                    200);
            assertEquals(proxy.asked().size(), before, "a host that is excepted is called without it");
            Exchange refused = get(tls.through(by(proxy, "wrong")), LOOPBACK);
            assertEquals(refused.outcome(), Outcome.UNREACHABLE, "the service has seen nothing");
            assertEquals(refused.code(), FailureCode.PROXY, refused.problem());
            assertEquals(get(plain.through(by(proxy, "wrong")), LOOPBACK).code(), FailureCode.PROXY);
        }
        Exchange nobody = get(plain.through(HttpProxy.of("127.0.0.1:1", null, null, List.of())), LOOPBACK);
        assertEquals(nobody.code(), FailureCode.REFUSED);
        assertTrue(nobody.problem().contains("the proxy 127.0.0.1:1"), nobody.problem());
    }

    @Test
    public void aProxyLeadsNowhereWhereCallsMayNotGo() throws Exception {
        try (Proxy proxy = new Proxy(0, null, null)) {
            HttpProxy by = HttpProxy.of("127.0.0.1:" + proxy.port(), null, null, List.of());
            for (String url : List.of("http://10.0.0.1/", "https://10.0.0.1/", "http://berths.invalid/")) {
                Exchange x = get(HttpSettings.to(url).through(by), LOOPBACK);
                assertEquals(x.code(), FailureCode.NOT_ALLOWED, url + ": " + x.problem());
            }
            assertEquals(proxy.asked(), List.of());
            Exchange left =
                    get(HttpSettings.to("http://berths.invalid/").through(by), HostPolicy.of("loopback,127.0.0.1"));
            assertFalse(left.code() == FailureCode.NOT_ALLOWED, "a proxy allowed by its name decides itself");
            assertEquals(proxy.asked(), List.of("GET http://berths.invalid/"));
            Exchange guarded = get(
                    HttpSettings.to(services.url() + "/").through(HttpProxy.of("10.0.0.1:1", null, null, List.of())),
                    LOOPBACK);
            assertEquals(guarded.code(), FailureCode.NOT_ALLOWED, "the proxy itself is a place, too");
        }
    }

    private static String probed(HttpSettings s) {
        return ConnectionProbe.of(s, LOOPBACK, Clock.systemUTC()).stages().stream()
                .map(p -> p.name() + " " + p.found() + (p.found() == StageState.STOPS ? ", " + p.text() : ""))
                .collect(Collectors.joining("; "));
    }

    @Test
    public void aProbeGoesTheWayOfTheProxyToo() throws Exception {
        HttpSettings plain = HttpSettings.to(services.url() + "/tidedesk");
        HttpSettings tls = HttpSettings.to("https://127.0.0.1:" + tlsPort + "/tidedesk");
        try (Proxy proxy = new Proxy(0, "gannet", PASSWORD)) {
            assertEquals(
                    probed(plain.through(by(proxy, PASSWORD))),
                    "allowed GOOD; proxy GOOD; HTTP GOOD; description GOOD");
            assertEquals(
                    probed(tls.securedBy(trusting()).through(by(proxy, PASSWORD))),
                    "allowed GOOD; proxy GOOD; TLS GOOD; HTTP GOOD; description GOOD");
            assertEquals(
                    probed(tls.through(by(proxy, PASSWORD))),
                    "allowed GOOD; proxy GOOD; TLS STOPS, TLS 1.3; its issuer, Tallow Reach CA, is not known here; HTTP"
                            + " NOT_REACHED; description NOT_REACHED");
            assertEquals(
                    probed(tls.through(by(proxy, "wrong"))),
                    "allowed GOOD; proxy STOPS, it wants a log-in, or another one; TLS NOT_REACHED; HTTP NOT_REACHED;"
                            + " description NOT_REACHED");
        }
        assertTrue(probed(plain.through(HttpProxy.of("127.0.0.1:1", null, null, List.of())))
                .startsWith("allowed GOOD; proxy STOPS, nothing answers at the proxy 127.0.0.1:1"));
    }

    @Test
    public void ntlmProvesThePasswordOnceAConnection() throws Exception {
        // The published example of MS-NLMP §4.2.4, for what the stand-in reckons.
        HexFormat hex = HexFormat.of();
        assertEquals(hex.formatHex(NtlmDesk.key("User", "Password", "Domain")), "0c868a403bfd7a93a3001ef22ef02e3f");
        byte[] temp = hex.parseHex("0101000000000000" + "0000000000000000" + "aaaaaaaaaaaaaaaa" + "00000000"
                + "02000c0044006f006d00610069006e00" + "01000c00530065007200760065007200" + "00000000" + "00000000");
        assertEquals(
                hex.formatHex(NtlmDesk.proof(
                        NtlmDesk.key("User", "Password", "Domain"), hex.parseHex("0123456789abcdef"), temp)),
                "68cd0ab851e51c96aabc927bebef6a1c");
        try (NtlmDesk desk = new NtlmDesk("mira", "sölé", "HARBOUR")) {
            HttpSettings s = HttpSettings.to(desk.url()).loggingIn(HttpLogIn.ntlm("mira", "sölé", "HARBOUR"));
            try (HttpCaller c = new HttpCaller(s, LOOPBACK)) {
                for (int i = 0; i < 3; i++) {
                    Exchange x = c.post("text/xml", List.of(), BODY);
                    assertEquals(x.status(), 200, desk.log + " " + x.problem());
                    assertFalse(x.requestHeaders().toString().contains("NTLM "));
                }
            }
            assertEquals(
                    desk.log,
                    List.of("message 0", "message 1", "message 3", "HARBOUR\\mira is proven", "known", "known"));
            assertEquals(
                    post(s.loggingIn(HttpLogIn.ntlm("mira", "wrong", "HARBOUR")))
                            .status(),
                    401);
            assertEquals(
                    post(s.loggingIn(HttpLogIn.ntlm("mira", "sölé", "OTHER"))).status(), 401);
        }
    }

    /** A service that serves nobody without a certificate of the authority. */
    private HttpsServer strict() throws Exception {
        KeyStore keys = authority.service(Instant.now().plus(Duration.ofDays(90)), "127.0.0.1");
        KeyManagerFactory own = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        own.init(keys, Authority.password().toCharArray());
        KeyStore believed = KeyStore.getInstance("PKCS12");
        believed.load(null, null);
        believed.setCertificateEntry("ca", authority.certificate());
        TrustManagerFactory trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        trust.init(believed);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(own.getKeyManagers(), trust.getTrustManagers(), null);
        HttpsServer out = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        out.setHttpsConfigurator(new HttpsConfigurator(context) {
            @Override
            public void configure(HttpsParameters p) {
                SSLParameters all = context.getDefaultSSLParameters();
                all.setNeedClientAuth(true);
                p.setSSLParameters(all);
            }
        });
        out.createContext("/", e -> {
            e.getRequestBody().readAllBytes();
            byte[] who = ((com.sun.net.httpserver.HttpsExchange) e)
                    .getSSLSession()
                    .getPeerPrincipal()
                    .getName()
                    .getBytes(StandardCharsets.UTF_8);
            e.sendResponseHeaders(200, who.length);
            e.getResponseBody().write(who);
            e.close();
        });
        out.start();
        return out;
    }

    @Test
    public void ourOwnCertificateIsShownToWhoAsks() throws Exception {
        KeyStore ours = authority.service(Instant.now().plus(Duration.ofDays(90)), "gannet.example");
        String password = Authority.password();
        OwnCertificate own = OwnCertificate.read(Authority.bytes(ours), password);
        HttpsServer strict = strict();
        try {
            HttpSettings s =
                    HttpSettings.to("https://127.0.0.1:" + strict.getAddress().getPort() + "/");
            Exchange known = post(s.securedBy(trusting().showing(own)));
            assertEquals(known.status(), 200, known.problem());
            assertTrue(new String(known.answer(), StandardCharsets.UTF_8).contains("gannet.example"));
            Exchange unknown = post(s.securedBy(trusting()));
            // In TLS 1.3 the refusal may come while the request is written: then nobody knows.
            assertEquals(unknown.status(), 0);
            assertTrue(
                    unknown.code() == FailureCode.TLS_OTHER || unknown.code() == FailureCode.RESET, unknown.problem());
        } finally {
            strict.stop(0);
        }
    }

    @Test
    public void aKeyIsReadFromEveryUsualFileAndTold() throws Exception {
        KeyStore ours = authority.service(Instant.now().plus(Duration.ofDays(90)), "gannet.example");
        String password = Authority.password();
        OwnCertificate own = OwnCertificate.read(Authority.bytes(ours), password);
        String pem = own.keyPem() + Certificates.facts(own.chain().get(0)).pem();
        assertEquals(
                OwnCertificate.read(pem.getBytes(StandardCharsets.US_ASCII), null)
                        .key(),
                own.key());
        KeyStore jks = KeyStore.getInstance("JKS");
        jks.load(null, null);
        jks.setKeyEntry("a", own.key(), password.toCharArray(), own.chain().toArray(new X509Certificate[0]));
        assertEquals(OwnCertificate.read(Authority.bytes(jks), password).key(), own.key());
        assertWrong(Authority.bytes(ours), "wrong", "its password is another one");
        assertWrong("nothing".getBytes(StandardCharsets.US_ASCII), null, "PKCS#12, JKS or PEM is taken");
        KeyStore other = authority.service(Instant.now().plus(Duration.ofDays(90)), "other.example");
        OwnCertificate another = OwnCertificate.read(Authority.bytes(other), password);
        String mixed = own.keyPem() + Certificates.facts(another.chain().get(0)).pem();
        assertWrong(mixed.getBytes(StandardCharsets.US_ASCII), null, "is not that of the first certificate");
        assertWrong(
                Certificates.facts(own.chain().get(0)).pem().getBytes(StandardCharsets.US_ASCII),
                null,
                "there is no private key in it");
        KeyStore believed = KeyStore.getInstance("PKCS12");
        believed.load(null, null);
        believed.setCertificateEntry("ca", authority.certificate());
        assertEquals(Certificates.read(Authority.bytes(believed), password), List.of(authority.certificate()));
    }

    private static void assertWrong(byte[] file, String password, String why) {
        String said = expectThrows(IllegalArgumentException.class, () -> OwnCertificate.read(file, password))
                .getMessage();
        assertTrue(said.contains(why), said);
    }

    @Test
    public void aNameThatDoesNotFitStopsTheCallUnlessItIsNotLookedAt() throws Exception {
        int port = services.listenWithTls(
                0, Authority.bytes(authority.service(Instant.now().plus(Duration.ofDays(90)), "elsewhere.example")));
        HttpSettings s = HttpSettings.to("https://127.0.0.1:" + port + "/tidedesk?wsdl");
        Exchange refused = get(s.securedBy(trusting()), LOOPBACK);
        assertEquals(refused.code(), FailureCode.TLS_NAME, refused.problem());
        TlsSettings any = new TlsSettings(trusting().trust(), null, TlsSettings.Version.TLS_1_2, true);
        assertEquals(get(s.securedBy(any), LOOPBACK).status(), 200);
        TlsSettings anyAndUnknown = new TlsSettings(TlsTrust.SYSTEM, null, TlsSettings.Version.TLS_1_2, true);
        assertEquals(
                get(s.securedBy(anyAndUnknown), LOOPBACK).code(), FailureCode.TLS_UNTRUSTED, "its issuer still counts");
        assertEquals(
                get(HttpSettings.to("https://127.0.0.1:" + tlsPort + "/"), LOOPBACK)
                        .code(),
                FailureCode.TLS_UNTRUSTED);
        int ended = services.listenWithTls(
                0, Authority.bytes(authority.service(Instant.now().minus(Duration.ofDays(2)), "127.0.0.1")));
        assertEquals(
                get(HttpSettings.to("https://127.0.0.1:" + ended + "/").securedBy(trusting()), LOOPBACK)
                        .code(),
                FailureCode.TLS_EXPIRED);
        assertEquals(
                get(HttpSettings.to("https://127.0.0.1:" + services.port() + "/"), LOOPBACK)
                        .code(),
                FailureCode.TLS_OTHER);
    }

    @Test
    public void theLowestVersionIsKept() throws Exception {
        KeyStore keys = authority.service(Instant.now().plus(Duration.ofDays(90)), "127.0.0.1");
        KeyManagerFactory own = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        own.init(keys, Authority.password().toCharArray());
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(own.getKeyManagers(), null, null);
        HttpsServer twelve = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        twelve.setHttpsConfigurator(new HttpsConfigurator(context) {
            @Override
            public void configure(HttpsParameters p) {
                SSLParameters all = context.getDefaultSSLParameters();
                all.setProtocols(new String[] {"TLSv1.2"});
                p.setSSLParameters(all);
            }
        });
        twelve.createContext("/", e -> {
            e.sendResponseHeaders(200, -1);
            e.close();
        });
        twelve.start();
        try {
            HttpSettings s =
                    HttpSettings.to("https://127.0.0.1:" + twelve.getAddress().getPort() + "/");
            assertEquals(get(s.securedBy(trusting()), LOOPBACK).status(), 200);
            TlsSettings thirteen = new TlsSettings(trusting().trust(), null, TlsSettings.Version.TLS_1_3, false);
            Exchange x = get(s.securedBy(thirteen), LOOPBACK);
            assertEquals(x.outcome(), Outcome.UNREACHABLE);
            assertEquals(x.code(), FailureCode.TLS_OTHER, x.problem());
        } finally {
            twelve.stop(0);
        }
    }

    @Test
    public void whatIsSaidOfAKeyIsItsCertificate() throws Exception {
        OwnCertificate own = OwnCertificate.read(
                Authority.bytes(authority.service(Instant.now().plus(Duration.ofDays(90)), "gannet.example")),
                Authority.password());
        assertFalse(own.toString()
                .contains(Base64.getEncoder().encodeToString(own.key().getEncoded())));
        assertEquals(own.toString(), "gannet.example");
    }
}
