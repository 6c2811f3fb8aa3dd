package org.wirekettle.call;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.apache.hc.client5.http.DnsResolver;
import org.apache.hc.client5.http.SystemDefaultDnsResolver;
import org.apache.hc.client5.http.auth.AuthSchemeFactory;
import org.apache.hc.client5.http.auth.AuthScope;
import org.apache.hc.client5.http.auth.CredentialsProvider;
import org.apache.hc.client5.http.auth.StandardAuthScheme;
import org.apache.hc.client5.http.auth.UsernamePasswordCredentials;
import org.apache.hc.client5.http.classic.methods.HttpGet;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.auth.BasicCredentialsProvider;
import org.apache.hc.client5.http.impl.auth.DigestSchemeFactory;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClientBuilder;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.ManagedHttpClientConnectionFactory;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManager;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.client5.http.impl.routing.DefaultRoutePlanner;
import org.apache.hc.client5.http.protocol.HttpClientContext;
import org.apache.hc.client5.http.ssl.DefaultClientTlsStrategy;
import org.apache.hc.core5.http.ClassicHttpRequest;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.HttpException;
import org.apache.hc.core5.http.config.Http1Config;
import org.apache.hc.core5.http.config.RegistryBuilder;
import org.apache.hc.core5.http.impl.io.HttpRequestExecutor;
import org.apache.hc.core5.http.io.HttpClientConnection;
import org.apache.hc.core5.http.io.HttpResponseInformationCallback;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.apache.hc.core5.http.protocol.HttpContext;
import org.apache.hc.core5.pool.PoolConcurrencyPolicy;
import org.apache.hc.core5.pool.PoolReusePolicy;
import org.apache.hc.core5.util.TimeValue;
import org.apache.hc.core5.util.Timeout;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.soap.Security;

/**
 * Makes calls to one endpoint over kept connections. Never repeats a call by itself: whoever calls decides, knowing the
 * {@link Outcome}. Shareable by threads; close it when the endpoint is no longer used.
 */
public final class HttpCaller implements AutoCloseable {
    /** HTTP headers of one answer, and bytes of each: a service has no use for more. */
    static final int MAX_HEADERS = 200;

    static final int MAX_HEADER_BYTES = 64 * 1024;
    /** A connection idle for longer is looked at before use, since services close them. */
    private static final int VALIDATE_AFTER_IDLE_MILLIS = 500;

    /** Up to here memory is set aside for as many bytes as an answer says it has, before they are there. */
    private static final int MAX_BELIEVED_BYTES = 1024 * 1024;

    private static final String CALL = "wirekettle.call";
    private static final String AUTHORIZATION = "Authorization";
    private static final int UNAUTHORIZED = 401;

    private final HttpSettings settings;
    private final CloseableHttpClient client;
    private final URI uri;
    /** Name and value of what goes with each request; null for nothing. */
    private final String[] authorization;

    /** Null unless tokens are had for the log-in. */
    private final OAuthToken tokens;

    private final Mask ownMask;
    /** Hides the token that is in use, too. */
    private volatile Mask mask;

    private volatile String masked;

    public HttpSettings settings() {
        return settings;
    }

    /** @throws IllegalArgumentException when the address is no http or https URL */
    public HttpCaller(HttpSettings settings, HostPolicy policy) {
        this.settings = settings;
        this.uri = uri(settings.url());
        this.ownMask = Mask.of(settings.user(), settings.password());
        this.mask = ownMask;
        boolean isOfHttp = settings.message().token() == Security.Token.NONE;
        this.authorization = isOfHttp ? authorization(settings) : null;
        boolean hasTokens = isOfHttp && settings.logIn().kind() == HttpLogIn.Kind.OAUTH && settings.user() != null;
        this.tokens = hasTokens ? new OAuthToken(settings, policy) : null;
        Timeout whole = Timeout.ofMilliseconds(settings.callTimeoutMillis());
        PoolingHttpClientConnectionManagerBuilder connections = PoolingHttpClientConnectionManagerBuilder.create();
        if (!settings.trust().equals(TlsTrust.SYSTEM)) {
            connections.setTlsSocketStrategy(
                    new DefaultClientTlsStrategy(settings.trust().context()));
        }
        PoolingHttpClientConnectionManager pool = connections
                .setMaxConnPerRoute(settings.parallel())
                .setMaxConnTotal(settings.parallel())
                .setPoolConcurrencyPolicy(PoolConcurrencyPolicy.LAX)
                .setConnPoolPolicy(PoolReusePolicy.LIFO)
                .setDnsResolver(guarded(policy))
                .setConnectionFactory(ManagedHttpClientConnectionFactory.builder()
                        .http1Config(Http1Config.custom()
                                .setMaxHeaderCount(MAX_HEADERS)
                                .setMaxLineLength(MAX_HEADER_BYTES)
                                .build())
                        .build())
                .setDefaultConnectionConfig(ConnectionConfig.custom()
                        .setConnectTimeout(Timeout.ofMilliseconds(
                                Math.min(settings.connectTimeoutMillis(), settings.callTimeoutMillis())))
                        .setSocketTimeout(whole)
                        .setValidateAfterInactivity(TimeValue.ofMilliseconds(VALIDATE_AFTER_IDLE_MILLIS))
                        .build())
                .build();
        // No proxy of the process's settings either: the policy is about the target, which only we resolve.
        HttpClientBuilder builder = HttpClients.custom();
        if (isOfHttp && settings.logIn().kind() == HttpLogIn.Kind.DIGEST && settings.user() != null) {
            builder.setDefaultCredentialsProvider(digest())
                    .setDefaultAuthSchemeRegistry(RegistryBuilder.<AuthSchemeFactory>create()
                            .register(StandardAuthScheme.DIGEST, DigestSchemeFactory.INSTANCE)
                            .build());
        }
        this.client = builder.setConnectionManager(pool)
                .setRoutePlanner(new DefaultRoutePlanner(null))
                .setRequestExecutor(new Marking())
                .disableAutomaticRetries()
                .disableRedirectHandling()
                .disableCookieManagement()
                .disableAuthCaching()
                .setUserAgent("Wire Kettle")
                .setDefaultRequestConfig(RequestConfig.custom()
                        .setConnectionRequestTimeout(whole)
                        .setResponseTimeout(whole)
                        .build())
                .build();
    }

    private static String[] authorization(HttpSettings s) {
        String password = s.password() == null ? "" : s.password();
        return switch (s.logIn().kind()) {
            case BASIC ->
                s.user() == null
                        ? null
                        : new String[] {
                            AUTHORIZATION,
                            "Basic "
                                    + Base64.getEncoder()
                                            .encodeToString(
                                                    (s.user() + ":" + password).getBytes(StandardCharsets.UTF_8))
                        };
            case BEARER -> password.isEmpty() ? null : new String[] {AUTHORIZATION, "Bearer " + password};
            case KEY -> password.isEmpty() ? null : new String[] {s.logIn().header(), password};
            case DIGEST, OAUTH -> null;
        };
    }

    /** Only for the address of the connection itself. */
    private CredentialsProvider digest() {
        BasicCredentialsProvider out = new BasicCredentialsProvider();
        char[] password =
                settings.password() == null ? new char[0] : settings.password().toCharArray();
        out.setCredentials(
                new AuthScope(uri.getHost(), uri.getPort()),
                new UsernamePasswordCredentials(settings.user(), password));
        return out;
    }

    static URI uri(String url) {
        URI out;
        try {
            out = URI.create(url.strip().replace(" ", "%20"));
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("“" + url + "” is no address: " + e.getMessage(), e);
        }
        if (out.getHost() == null
                || !"http".equalsIgnoreCase(out.getScheme()) && !"https".equalsIgnoreCase(out.getScheme())) {
            throw new IllegalArgumentException("“" + url + "” is no http or https address");
        }
        return out;
    }

    private static DnsResolver guarded(HostPolicy policy) {
        return new DnsResolver() {
            @Override
            public InetAddress[] resolve(String host) throws UnknownHostException {
                InetAddress[] found = SystemDefaultDnsResolver.INSTANCE.resolve(host);
                String refusal = policy.refusal(host, found);
                if (refusal != null) {
                    throw new HostPolicy.NotAllowed(refusal);
                }
                return found;
            }

            @Override
            public String resolveCanonicalHostname(String host) throws UnknownHostException {
                return host;
            }
        };
    }

    /** A call under way: whether it has begun to be sent, and why it was ended from outside. */
    private static final class Call implements Deadlines.Pending {
        private final HttpCaller caller;
        private final HttpUriRequestBase request;
        private final long startNanos = System.nanoTime();
        private final long deadlineNanos;
        private volatile boolean sending;
        private volatile String endedBecause;
        private final int timeoutMillis;

        Call(HttpCaller caller, HttpUriRequestBase request, int timeoutMillis) {
            this.caller = caller;
            this.request = request;
            this.timeoutMillis = timeoutMillis;
            this.deadlineNanos = startNanos + TimeUnit.MILLISECONDS.toNanos(timeoutMillis);
        }

        @Override
        public long deadlineNanos() {
            return deadlineNanos;
        }

        @Override
        public void timeIsOver() {
            end("no answer within " + timeoutMillis + " ms");
        }

        void end(String because) {
            endedBecause = because;
            request.abort();
        }
    }

    /** Notes when a request begins to be sent: whatever fails before that has not reached the service. */
    private static final class Marking extends HttpRequestExecutor {
        @Override
        public ClassicHttpResponse execute(
                ClassicHttpRequest request,
                HttpClientConnection connection,
                HttpResponseInformationCallback callback,
                HttpContext context)
                throws IOException, HttpException {
            ((Call) context.getAttribute(CALL)).sending = true;
            return super.execute(request, connection, callback, context);
        }
    }

    /** Ends the calls under way: those that were being sent are in doubt. */
    public void abort() {
        if (tokens != null) {
            tokens.abort();
        }
        Deadlines.underWay(p -> {
            if (p instanceof Call c && c.caller == this) {
                c.end("the call was ended when the run was stopped");
            }
        });
    }

    /** What is hidden in everything shown of this endpoint's calls. */
    public Mask mask() {
        return mask;
    }

    /** Posts a body with the given further headers. Never throws for what networks do. */
    public Exchange post(String contentType, List<String[]> headers, byte[] body) {
        return exchange(
                () -> {
                    HttpPost request = new HttpPost(uri);
                    request.setEntity(new ByteArrayEntity(body, null));
                    request.setHeader("Content-Type", contentType);
                    headers.forEach(h -> request.setHeader(h[0], h[1]));
                    return request;
                },
                body);
    }

    /** Fetches a document. */
    public Exchange get() {
        return exchange(() -> new HttpGet(uri), new byte[0]);
    }

    /** With a token, where the log-in goes so; one that is refused is had anew, once: nothing was worked on then. */
    private Exchange exchange(Supplier<HttpUriRequestBase> request, byte[] body) {
        if (tokens == null) {
            return exchange(request.get(), body);
        }
        Exchange refused = null;
        for (int attempt = 1; ; attempt++) {
            HttpUriRequestBase r = request.get();
            String token;
            try {
                token = tokens.get();
            } catch (IOException e) {
                return refused != null ? refused : unsent(r, body, e.getMessage());
            }
            r.setHeader(AUTHORIZATION, "Bearer " + token);
            if (!token.equals(masked)) {
                mask = ownMask.and(token);
                masked = token;
            }
            Exchange x = exchange(r, body);
            if (x.status() != UNAUTHORIZED || attempt > 1) {
                return x;
            }
            tokens.refused(token);
            refused = x;
        }
    }

    private Exchange unsent(HttpUriRequestBase request, byte[] body, String why) {
        return new Exchange(
                Outcome.UNREACHABLE,
                settings.url(),
                headers(request.getHeaders()),
                body,
                0,
                List.of(),
                new byte[0],
                why,
                0,
                0,
                mask);
    }

    private Exchange exchange(HttpUriRequestBase request, byte[] body) {
        if (authorization != null) {
            request.setHeader(authorization[0], authorization[1]);
        }
        Call call = new Call(this, request, settings.callTimeoutMillis());
        HttpClientContext context = HttpClientContext.create();
        context.setAttribute(CALL, call);
        Deadlines.add(call);
        try {
            return client.execute(request, context, response -> answered(call, body, response));
        } catch (IOException | IllegalStateException e) {
            // An aborted request may also be refused as one that was shut down already.
            return failed(call, body, e);
        } finally {
            Deadlines.remove(call);
        }
    }

    private Exchange answered(Call call, byte[] body, ClassicHttpResponse response) throws IOException {
        long head = System.nanoTime();
        byte[] answer = read(response.getEntity());
        long end = System.nanoTime();
        return new Exchange(
                Outcome.ANSWERED,
                settings.url(),
                headers(call.request.getHeaders()),
                body,
                response.getCode(),
                headers(response.getHeaders()),
                answer,
                null,
                TimeUnit.NANOSECONDS.toMicros(head - call.startNanos),
                TimeUnit.NANOSECONDS.toMicros(end - head),
                mask);
    }

    private byte[] read(HttpEntity entity) throws IOException {
        if (entity == null) {
            return new byte[0];
        }
        try (InputStream in = entity.getContent()) {
            long said = entity.getContentLength();
            if (said >= 0 && said <= Math.min(settings.maxAnswerBytes(), MAX_BELIEVED_BYTES)) {
                // The client sees to it that there are so many: fewer are an error, more belong to the next answer.
                byte[] answer = new byte[(int) said];
                int length = in.readNBytes(answer, 0, answer.length);
                // At the end the connection goes back to the pool.
                boolean isWhole = in.read() < 0 && length == answer.length;
                if (isWhole) {
                    return answer;
                }
                throw new IOException("the answer has not the length that its Content-Length says");
            }
            byte[] answer = in.readNBytes(settings.maxAnswerBytes());
            if (answer.length == settings.maxAnswerBytes() && in.read() >= 0) {
                throw new TooLong(
                        "the answer is longer than " + settings.maxAnswerBytes() + " bytes, the connection's limit");
            }
            return answer;
        }
    }

    /** The service answered, but with more than we take. */
    static final class TooLong extends IOException {
        private static final long serialVersionUID = 1;

        TooLong(String message) {
            super(message);
        }
    }

    private Exchange failed(Call call, byte[] body, Exception e) {
        boolean unsent = !call.sending || TransportWords.isRefusedByTls(e);
        String why = call.endedBecause != null ? call.endedBecause : TransportWords.of(e, uri, settings, call.sending);
        long micros = TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - call.startNanos);
        return new Exchange(
                unsent ? Outcome.UNREACHABLE : Outcome.IN_DOUBT,
                settings.url(),
                headers(call.request.getHeaders()),
                body,
                0,
                List.of(),
                new byte[0],
                why,
                micros,
                0,
                mask);
    }

    private List<String[]> headers(Header[] in) {
        List<String[]> out = new ArrayList<>(in.length);
        for (Header h : in) {
            boolean isSecret = h.getName().equalsIgnoreCase(AUTHORIZATION)
                    || authorization != null && h.getName().equalsIgnoreCase(authorization[0]);
            out.add(new String[] {h.getName(), isSecret ? "•••" : h.getValue()});
        }
        return out;
    }

    @Override
    public void close() {
        if (tokens != null) {
            tokens.close();
        }
        try {
            client.close();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException("closing the connections to " + settings.url() + " failed", e);
        }
    }
}
