package org.wirekettle.call;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.UnknownHostException;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.X509ExtendedTrustManager;
import org.apache.hc.client5.http.psl.PublicSuffixMatcherLoader;
import org.apache.hc.client5.http.ssl.DefaultHostnameVerifier;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange.Outcome;

/**
 * Goes the way of a call stage by stage and tells at each what it found, how long it took, and, where the way ends,
 * what to do. Nothing is sent before the service's certificate is believed. Used once.
 */
public final class ConnectionProbe {
    /** How far a certificate's end may be before it is told. */
    private static final int DAYS_TO_TELL = 30;

    /** The one that calls are made with. */
    private static final DefaultHostnameVerifier VERIFIER =
            new DefaultHostnameVerifier(PublicSuffixMatcherLoader.getDefault());

    /** What came of a stage. */
    public enum StageState {
        GOOD,
        /** The way goes on, but something is to be looked at. */
        WARNING,
        /** The way ends here. */
        STOPS,
        NOT_REACHED
    }

    /**
     * A part of the way.
     *
     * @param name {@code name}, {@code allowed}, {@code proxy}, {@code TCP}, {@code TLS}, {@code HTTP} or
     *     {@code description}
     * @param text what was found, in words
     * @param todo what to do about it; null for nothing
     */
    public record Stage(
            String name,
            StageState found,
            @Nullable String text,
            @Nullable Long micros,
            @Nullable String todo) {}

    /**
     * What a probe found.
     *
     * @param chain the certificates that the service shows, its own first; empty without TLS
     * @param isBelieved whether the chain leads to somebody who is believed
     */
    public record Result(List<Stage> stages, List<Certificates.Facts> chain, boolean isBelieved) {
        public boolean isGood() {
            return stages.stream().allMatch(s -> s.found == StageState.GOOD || s.found == StageState.WARNING);
        }
    }

    /** Where services of plain HTTP describe themselves, below their address. */
    private static final List<String> OPEN_API = List.of("/openapi.json", "/openapi.yaml", "/swagger.json");

    private final HttpSettings settings;
    private final HostPolicy policy;
    private final Clock clock;
    private final URI uri;
    private final int port;
    private final List<Stage> stages = new ArrayList<>();
    private List<X509Certificate> chain = List.of();
    private boolean isBelieved = true;
    private long startNanos;

    private ConnectionProbe(HttpSettings settings, HostPolicy policy, Clock clock) {
        this.settings = settings;
        this.policy = policy;
        this.clock = clock;
        this.uri = HttpCaller.uri(settings.url());
        this.port = uri.getPort() >= 0 ? uri.getPort() : isTls() ? 443 : 80;
    }

    /**
     * Goes the way once, at most as long as a call may take for each stage.
     *
     * @throws IllegalArgumentException when the address is no http or https URL
     */
    public static Result of(HttpSettings settings, HostPolicy policy, Clock clock) {
        ConnectionProbe p = new ConnectionProbe(settings, policy, clock);
        p.go();
        for (String name : p.names()) {
            if (p.stages.stream().noneMatch(s -> s.name.equals(name))) {
                p.stages.add(new Stage(name, StageState.NOT_REACHED, null, null, null));
            }
        }
        return new Result(
                List.copyOf(p.stages), p.chain.stream().map(Certificates::facts).toList(), p.isBelieved);
    }

    private List<String> names() {
        List<String> out =
                new ArrayList<>(isProxied() ? List.of("allowed", "proxy") : List.of("name", "allowed", "TCP"));
        if (isTls()) {
            out.add("TLS");
        }
        out.addAll(List.of("HTTP", "description"));
        return out;
    }

    private boolean isProxied() {
        return settings.proxy() != null && settings.proxy().isFor(uri.getHost());
    }

    private boolean isTls() {
        return "https".equalsIgnoreCase(uri.getScheme());
    }

    private void go() {
        if (isProxied()) {
            behindProxy();
            return;
        }
        begin();
        InetAddress[] found;
        try {
            found = InetAddress.getAllByName(uri.getHost());
        } catch (UnknownHostException e) {
            stops(
                    "name",
                    "the host " + uri.getHost() + " has no address",
                    "Look at its spelling, and at the network's name server.");
            return;
        }
        good("name", found[0].getHostAddress() + (found.length == 1 ? "" : " and " + (found.length - 1) + " more"));
        begin();
        String refusal = policy.refusal(uri.getHost(), port, found);
        if (refusal != null) {
            stops("allowed", refusal, null);
            return;
        }
        good("allowed", policy.allowance(uri.getHost(), port, found));
        begin();
        try (Socket plain = new Socket()) {
            plain.connect(
                    new InetSocketAddress(found[0], port), settings.limits().connectMillis());
            plain.setSoTimeout(settings.limits().callMillis());
            good("TCP", "port " + port + " accepts");
            if (isTls() && !tls(plain)) {
                return;
            }
        } catch (IOException e) {
            stops(
                    "TCP",
                    TransportWords.of(e, uri, settings, false).text(),
                    "Look whether the service runs, whether " + port
                            + " is its port, and whether a firewall is between.");
            return;
        }
        http();
    }

    /** The proxy looks the name up and connects: what is to be seen from here is whether it lets the call through. */
    private void behindProxy() {
        HttpProxy proxy = settings.proxy();
        begin();
        String refusal = policy.refusalBehind(proxy, uri.getHost(), port);
        if (refusal != null) {
            stops("allowed", refusal, null);
            return;
        }
        good("allowed", "by the proxy " + proxy);
        begin();
        try (Socket plain = new Socket()) {
            InetAddress at = InetAddress.getByName(proxy.host());
            String no = policy.refusal(proxy.host(), proxy.port(), new InetAddress[] {at});
            if (no != null) {
                stops("proxy", no, null);
                return;
            }
            plain.connect(
                    new InetSocketAddress(at, proxy.port()), settings.limits().connectMillis());
            plain.setSoTimeout(settings.limits().callMillis());
            if (isTls()) {
                int status = Tunnel.open(plain, proxy, uri.getHost() + ":" + port);
                if (status / 100 != 2 && status != Tunnel.OTHER_LOG_IN) {
                    stops(
                            "proxy",
                            status == 407
                                    ? "it wants a log-in, or another one"
                                    : "it answers with HTTP status " + status,
                            FailureCode.PROXY.todo());
                    return;
                }
                good("proxy", proxy + (status == Tunnel.OTHER_LOG_IN ? " asks for a log-in" : " opens a tunnel"));
                if (status == Tunnel.OTHER_LOG_IN) {
                    begin();
                    add("TLS", StageState.WARNING, "not looked at behind a proxy with this kind of log-in", null);
                } else if (!tls(plain)) {
                    return;
                }
            } else {
                good("proxy", proxy + " accepts");
            }
        } catch (UnknownHostException e) {
            stops("proxy", "the host " + proxy.host() + " has no address", "Look at the spelling of the proxy's host.");
            return;
        } catch (IOException e) {
            stops("proxy", TransportWords.of(e, uri, settings, false).text(), FailureCode.PROXY.todo());
            return;
        }
        http();
    }

    private void begin() {
        startNanos = System.nanoTime();
    }

    private void good(String name, String text) {
        add(name, StageState.GOOD, text, null);
    }

    private void stops(String name, String text, String todo) {
        add(name, StageState.STOPS, text, todo);
    }

    private void add(String name, StageState found, String text, String todo) {
        long micros = TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - startNanos);
        stages.add(new Stage(name, found, text, micros, todo));
    }

    /** Believes whatever it is shown, to be able to show it; nothing is sent to somebody so believed. */
    private static final class Seeing extends X509ExtendedTrustManager {
        private X509Certificate[] shown = {};

        @Override
        public void checkServerTrusted(X509Certificate[] certificates, String authType, Socket socket) {
            shown = certificates.clone();
        }

        @Override
        public void checkServerTrusted(X509Certificate[] certificates, String authType, SSLEngine engine) {
            shown = certificates.clone();
        }

        @Override
        public void checkServerTrusted(X509Certificate[] certificates, String authType) {
            shown = certificates.clone();
        }

        @Override
        public void checkClientTrusted(X509Certificate[] c, String a, Socket s) throws CertificateException {
            throw new CertificateException("this is no service");
        }

        @Override
        public void checkClientTrusted(X509Certificate[] c, String a, SSLEngine e) throws CertificateException {
            throw new CertificateException("this is no service");
        }

        @Override
        public void checkClientTrusted(X509Certificate[] c, String a) throws CertificateException {
            throw new CertificateException("this is no service");
        }

        @Override
        public X509Certificate[] getAcceptedIssuers() {
            return new X509Certificate[0];
        }
    }

    /** However slowly the other side sends, it takes no longer than a call may. */
    private record Handshake(Socket socket, long deadlineNanos) implements Deadlines.Pending {
        @Override
        public void timeIsOver() {
            try {
                socket.close();
            } catch (IOException e) {
                // It is over all the same.
            }
        }
    }

    private boolean tls(Socket plain) {
        begin();
        Seeing seeing = new Seeing();
        Handshake limit = new Handshake(
                plain,
                System.nanoTime()
                        + TimeUnit.MILLISECONDS.toNanos(settings.limits().callMillis()));
        Deadlines.add(limit);
        try {
            SSLContext context = settings.tls().context(seeing);
            SSLSocket tls = (SSLSocket) context.getSocketFactory().createSocket(plain, uri.getHost(), port, false);
            tls.setEnabledProtocols(settings.tls().lowest().andLater());
            tls.startHandshake();
            chain = Arrays.asList(seeing.shown);
            return judged(tls.getSession().getProtocol().replace("TLSv", "TLS "));
        } catch (IOException e) {
            boolean isLate = e instanceof SocketTimeoutException || plain.isClosed();
            String why = isLate
                    ? "no handshake within " + settings.limits().callMillis() + " ms"
                    : TransportWords.of(e, uri, settings, false).text();
            stops("TLS", why, null);
            return false;
        } finally {
            Deadlines.remove(limit);
        }
    }

    /** A chain may have certificates that nobody needs: what counts is whether it leads to somebody believed. */
    private boolean judged(String spoken) {
        X509Certificate own = chain.get(0);
        Instant now = clock.instant();
        if (!isKnown()) {
            for (X509Certificate c : chain) {
                if (isOutOfTime(spoken, Certificates.facts(c), now)) {
                    return false;
                }
            }
            isBelieved = false;
            stops(
                    "TLS",
                    spoken + "; its issuer, "
                            + Certificates.facts(chain.get(chain.size() - 1)).issuer() + ", is not known here",
                    "Ask the people of the service for the fingerprint of their issuer and compare it; then it can be"
                            + " trusted here.");
            return false;
        }
        Certificates.Facts facts = Certificates.facts(own);
        try {
            VERIFIER.verify(uri.getHost().replaceAll("[\\[\\]]", ""), own);
        } catch (SSLException e) {
            if (settings.tls().isAnyName()) {
                add(
                        "TLS",
                        StageState.WARNING,
                        spoken + "; the certificate is for another host, " + facts.subject()
                                + ", and counts, since names are not looked at",
                        "Have the name looked at as soon as the certificate fits.");
                return true;
            }
            stops(
                    "TLS",
                    spoken + "; the certificate is not for " + uri.getHost() + " but for "
                            + (facts.names().isEmpty() ? facts.subject() : String.join(", ", facts.names())),
                    "Use the address that the certificate is for.");
            return false;
        }
        long days = Duration.between(now, facts.until()).toDays();
        boolean isNear = days <= DAYS_TO_TELL;
        // One that is trusted by itself counts whatever its time.
        String end = facts.until().isBefore(now) ? "ended on " + day(facts.until()) : "ends in " + days + " days";
        add(
                "TLS",
                isNear ? StageState.WARNING : StageState.GOOD,
                spoken + ", " + facts.subject() + " of " + facts.issuer() + ", " + end,
                isNear ? "The people of the service have to renew it in time." : null);
        return true;
    }

    /** Then the way stops there, and it is told. */
    private boolean isOutOfTime(String spoken, Certificates.Facts f, Instant now) {
        boolean isOver = f.until().isBefore(now);
        if (!isOver && !f.from().isAfter(now)) {
            return false;
        }
        stops(
                "TLS",
                spoken + "; the certificate of " + f.subject()
                        + (isOver ? " ended on " + day(f.until()) : " counts only from " + day(f.from())),
                isOver
                        ? "The people of the service have to renew it."
                        : "Compare the clock of this machine with theirs.");
        return true;
    }

    /** Apart from its name, which is looked at by itself. */
    private boolean isKnown() {
        try {
            String key = chain.get(0).getPublicKey().getAlgorithm();
            settings.tls()
                    .trust()
                    .manager()
                    .checkServerTrusted(
                            chain.toArray(new X509Certificate[0]), key.equals("EC") ? "ECDHE_ECDSA" : "ECDHE_RSA");
            return true;
        } catch (CertificateException e) {
            return false;
        }
    }

    private static String day(Instant at) {
        return at.toString().substring(0, 10);
    }

    private void http() {
        begin();
        Exchange x;
        try (HttpCaller caller = new HttpCaller(settings, policy)) {
            x = caller.get();
        }
        if (x.outcome() != Outcome.ANSWERED) {
            stops("HTTP", x.problem(), null);
            return;
        }
        String todo = todo(x.status());
        boolean isWell = todo == null;
        add(
                "HTTP",
                isWell ? StageState.GOOD : StageState.WARNING,
                "status " + x.status() + " to a GET"
                        + Page.title(x).map(t -> ", a page “" + t + "”").orElse("") + asked(x),
                todo);
        description(x);
    }

    private static String asked(Exchange x) {
        return x.answerHeaders().stream()
                .filter(h -> h[0].equalsIgnoreCase("WWW-Authenticate"))
                .map(h -> ", asks for " + h[1].replaceFirst("(?s)[ ,].*", ""))
                .findFirst()
                .orElse("");
    }

    /** What a status that is no success may mean; null for a success. */
    private static String todo(int status) {
        return switch (status) {
            case 404, 410 ->
                "There is something, but not at this address: look at its path. Operations of plain HTTP may be below.";
            case 401, 403, 407 -> "It wants a log-in, or another one.";
            case 405, 400, 415, 500, 501 -> "Many services refuse a GET and answer calls: try one on the Bench.";
            case 301, 302, 303, 307, 308 ->
                "It leads on to another address. Calls do not follow: give that one here, or have redirects followed.";
            default -> status < 400 ? null : "It is not well at the moment, or not what was meant.";
        };
    }

    /** @param got what is at the address itself; one with a query has its description there, if anywhere */
    private void description(Exchange got) {
        begin();
        boolean isAsked = uri.getRawQuery() != null;
        String where = isAsked ? "there" : "at ?wsdl";
        Exchange x = isAsked ? got : at("?wsdl");
        String text = Page.start(x).toLowerCase(Locale.ROOT);
        if (x.status() == 200 && text.contains("definitions") && text.contains("schemas.xmlsoap.org/wsdl")) {
            good("description", "its WSDL is " + where);
            return;
        }
        for (String usual : isAsked ? List.<String>of() : OPEN_API) {
            Exchange api = at(usual);
            String start = Page.start(api);
            if (api.status() == 200 && (start.contains("openapi") || start.contains("swagger"))) {
                good("description", "its OpenAPI is at " + usual);
                return;
            }
        }
        String others = isAsked ? "" : ", and no OpenAPI where it usually is";
        add("description", StageState.WARNING, "no WSDL " + where + others, null);
    }

    private Exchange at(String below) {
        String base = settings.url().strip();
        String url = below.startsWith("/") ? base.replaceFirst("/+$", "") + below : base + below;
        try (HttpCaller caller = new HttpCaller(settings.at(url), policy)) {
            return caller.get();
        }
    }
}
