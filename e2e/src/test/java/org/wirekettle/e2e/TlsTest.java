package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.net.ConnectException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.security.cert.CertificateFactory;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;

/** The server's own TLS: certificate files as settings, cookies that only go over it, plain HTTP led there. */
public class TlsTest {
    private static final int MAX_TRIES = 100;

    private WireKettle wk;
    private int port;
    private Path certificate;

    @BeforeClass
    void start() throws Exception {
        Path folder = Files.createTempDirectory(Path.of(WireKettle.env("WK_TEST_WORK")), "tls");
        certificate = folder.resolve("certificate.pem");
        Path key = folder.resolve("key.pem");
        List<String> make = List.of(
                "openssl",
                "req",
                "-x509",
                "-newkey",
                "rsa:2048",
                "-nodes",
                "-days",
                "2",
                "-subj",
                "/CN=localhost",
                "-addext",
                "subjectAltName=DNS:localhost,IP:127.0.0.1",
                "-keyout",
                key.toString(),
                "-out",
                certificate.toString());
        Process openssl = new ProcessBuilder(make)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
        assertEquals(openssl.waitFor(), 0);
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        wk = new WireKettle(
                "tls",
                Map.of(
                        "WK_TLS_CERTIFICATE",
                        certificate.toString(),
                        "WK_TLS_KEY",
                        key.toString(),
                        "WK_TLS_PORT",
                        Integer.toString(port),
                        "WK_PLAIN_HTTP",
                        "redirect"));
        awaitTls();
    }

    /** The plain port may answer a moment before this one listens. */
    private void awaitTls() throws Exception {
        for (int i = 0; i < MAX_TRIES; i++) {
            try (Socket s = new Socket(InetAddress.getLoopbackAddress(), port)) {
                return;
            } catch (ConnectException e) {
                TimeUnit.MILLISECONDS.sleep(100);
            }
        }
        throw new AssertionError("nobody listens on the port for TLS");
    }

    @AfterClass(alwaysRun = true)
    void end() throws Exception {
        if (wk != null) {
            wk.close();
        }
    }

    @Test
    public void theCookieOfALogInOverTlsStaysThere() throws Exception {
        HttpResponse<String> in = logIn("https://localhost:" + port);
        assertEquals(in.statusCode(), 200, in.body());
        String cookie = in.headers().firstValue("set-cookie").orElseThrow();
        assertTrue(cookie.contains(";Secure") || cookie.contains("; Secure"), cookie);
        assertTrue(cookie.contains("HttpOnly") && cookie.contains("SameSite=Strict"), cookie);
        HttpRequest asks = HttpRequest.newBuilder(URI.create("https://localhost:" + port + "/api/session"))
                .header("Cookie", cookie.split(";")[0])
                .build();
        assertEquals(client().send(asks, HttpResponse.BodyHandlers.ofString()).statusCode(), 200);
    }

    @Test
    public void plainHttpIsLedToTls() throws Exception {
        HttpRequest page =
                HttpRequest.newBuilder(URI.create(wk.url() + "/flows")).build();
        HttpResponse<String> a = client().send(page, HttpResponse.BodyHandlers.ofString());
        assertTrue(a.statusCode() >= 301 && a.statusCode() <= 308, a.statusCode() + a.body());
        assertEquals(a.headers().firstValue("location").orElse(""), "https://127.0.0.1:" + port + "/flows");
        HttpResponse<String> in = logIn(wk.url());
        assertFalse(in.headers().firstValue("set-cookie").isPresent(), "no session begins in clear");
    }

    private HttpResponse<String> logIn(String url) throws Exception {
        HttpRequest r = HttpRequest.newBuilder(URI.create(url + "/api/session"))
                .header("X-Wire-Kettle", "1")
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(
                        "{\"name\":\"admin\",\"password\":\"" + WireKettle.ADMIN_PASSWORD + "\"}"))
                .build();
        return client().send(r, HttpResponse.BodyHandlers.ofString());
    }

    private HttpClient client() throws Exception {
        KeyStore trusted = KeyStore.getInstance(KeyStore.getDefaultType());
        trusted.load(null, null);
        try (var in = Files.newInputStream(certificate)) {
            trusted.setCertificateEntry(
                    "ours", CertificateFactory.getInstance("X.509").generateCertificate(in));
        }
        TrustManagerFactory trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        trust.init(trusted);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(null, trust.getTrustManagers(), null);
        return HttpClient.newBuilder()
                .version(HttpClient.Version.HTTP_1_1)
                .sslContext(context)
                .build();
    }
}
