package org.wirekettle.call;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.NoRouteToHostException;
import java.net.URI;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLHandshakeException;
import org.apache.hc.client5.http.ConnectTimeoutException;
import org.apache.hc.client5.http.DnsResolver;
import org.apache.hc.client5.http.HttpHostConnectException;
import org.apache.hc.client5.http.SystemDefaultDnsResolver;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManager;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.HttpException;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.apache.hc.core5.pool.PoolConcurrencyPolicy;
import org.apache.hc.core5.pool.PoolReusePolicy;
import org.apache.hc.core5.util.TimeValue;
import org.apache.hc.core5.util.Timeout;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.soap.Security;

/**
 * Makes calls to one endpoint over kept connections. Never repeats a call by itself: whoever calls decides, knowing the {@link Outcome}.
 * Shareable by threads; close it when the endpoint is no longer used.
 */
public final class HttpCaller implements AutoCloseable {
    /** A connection idle for longer is looked at before use, since services close them. */
    private static final int VALIDATE_AFTER_IDLE_MILLIS = 500;

    private final HttpSettings settings;
    private final CloseableHttpClient client;
    private final URI uri;
    private final String authorization;

    public HttpSettings settings() {
        return settings;
    }

    /** @throws IllegalArgumentException when the address is no http or https URL */
    public HttpCaller(HttpSettings settings, HostPolicy policy) {
        this.settings = settings;
        this.uri = uri(settings.url());
        this.authorization = settings.user() == null || settings.message().token() != Security.Token.NONE ? null
                : "Basic " + Base64.getEncoder().encodeToString((settings.user() + ":" + (settings.password() == null ? "" : settings.password())).getBytes(StandardCharsets.UTF_8));
        PoolingHttpClientConnectionManager pool = PoolingHttpClientConnectionManagerBuilder.create()
                .setMaxConnPerRoute(settings.parallel()).setMaxConnTotal(settings.parallel())
                .setPoolConcurrencyPolicy(PoolConcurrencyPolicy.LAX).setConnPoolPolicy(PoolReusePolicy.LIFO)
                .setDnsResolver(guarded(policy))
                .setDefaultConnectionConfig(ConnectionConfig.custom().setConnectTimeout(Timeout.ofMilliseconds(settings.connectTimeoutMillis()))
                        .setSocketTimeout(Timeout.ofMilliseconds(settings.answerTimeoutMillis()))
                        .setValidateAfterInactivity(TimeValue.ofMilliseconds(VALIDATE_AFTER_IDLE_MILLIS)).build())
                .build();
        this.client = HttpClients.custom().setConnectionManager(pool).disableAutomaticRetries().disableRedirectHandling().disableCookieManagement().disableAuthCaching()
                .setUserAgent("Wire Kettle")
                .setDefaultRequestConfig(RequestConfig.custom().setConnectionRequestTimeout(Timeout.ofMilliseconds(settings.answerTimeoutMillis()))
                        .setResponseTimeout(Timeout.ofMilliseconds(settings.answerTimeoutMillis())).build())
                .build();
    }

    private static URI uri(String url) {
        URI out;
        try {
            out = URI.create(url.strip().replace(" ", "%20"));
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("“" + url + "” is no address: " + e.getMessage(), e);
        }
        if (out.getHost() == null || !"http".equalsIgnoreCase(out.getScheme()) && !"https".equalsIgnoreCase(out.getScheme())) {
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
                    throw new NotAllowed(refusal);
                }
                return found;
            }

            @Override
            public String resolveCanonicalHostname(String host) throws UnknownHostException {
                return host;
            }
        };
    }

    /** Told apart from a name that does not exist by its class. */
    private static final class NotAllowed extends UnknownHostException {
        private static final long serialVersionUID = 1;

        NotAllowed(String message) {
            super(message);
        }
    }

    /** Posts a body with the given further headers. Never throws for what networks do. */
    public Exchange post(String contentType, List<String[]> headers, byte[] body) {
        HttpPost request = new HttpPost(uri);
        request.setEntity(new ByteArrayEntity(body, null));
        request.setHeader("Content-Type", contentType);
        headers.forEach(h -> request.setHeader(h[0], h[1]));
        return exchange(request, body);
    }

    /** Fetches a document. */
    public Exchange get() {
        return exchange(new org.apache.hc.client5.http.classic.methods.HttpGet(uri), new byte[0]);
    }

    private Exchange exchange(HttpUriRequestBase request, byte[] body) {
        if (authorization != null) {
            request.setHeader("Authorization", authorization);
        }
        long start = System.nanoTime();
        try {
            return client.execute(request, response -> answered(request, body, response, start));
        } catch (IOException e) {
            return failed(request, body, e, start);
        }
    }

    private Exchange answered(HttpUriRequestBase request, byte[] body, ClassicHttpResponse response, long start) throws IOException, HttpException {
        long head = System.nanoTime();
        Header type = response.getFirstHeader("Content-Type");
        byte[] answer = DeclaredCharset.utf8(read(response.getEntity()), type == null ? null : type.getValue());
        long end = System.nanoTime();
        return new Exchange(Outcome.ANSWERED, settings.url(), sentHeaders(request), body, response.getCode(), headers(response.getHeaders()), answer, null,
                TimeUnit.NANOSECONDS.toMicros(head - start), TimeUnit.NANOSECONDS.toMicros(end - head));
    }

    private byte[] read(HttpEntity entity) throws IOException {
        if (entity == null) {
            return new byte[0];
        }
        try (InputStream in = entity.getContent()) {
            byte[] answer = in.readNBytes(settings.maxAnswerBytes());
            if (answer.length == settings.maxAnswerBytes() && in.read() >= 0) {
                throw new TooLong("the answer is longer than " + settings.maxAnswerBytes() + " bytes, the connection's limit");
            }
            return answer;
        }
    }

    /** The service answered, but with more than we take. */
    private static final class TooLong extends IOException {
        private static final long serialVersionUID = 1;

        TooLong(String message) {
            super(message);
        }
    }

    private Exchange failed(HttpUriRequestBase request, byte[] body, IOException e, long start) {
        boolean unsent = e instanceof HttpHostConnectException || e instanceof ConnectTimeoutException || e instanceof ConnectException || e instanceof UnknownHostException
                || e instanceof NoRouteToHostException || e instanceof SSLHandshakeException || e instanceof org.apache.hc.core5.http.ConnectionRequestTimeoutException;
        long micros = TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - start);
        return new Exchange(unsent ? Outcome.UNREACHABLE : Outcome.IN_DOUBT, settings.url(), sentHeaders(request), body, 0, List.of(), new byte[0], words(e), micros, 0);
    }

    private String words(IOException e) {
        if (e instanceof NotAllowed || e instanceof TooLong) {
            return e.getMessage();
        }
        if (e instanceof UnknownHostException) {
            return "the host " + uri.getHost() + " has no address";
        }
        if (e instanceof ConnectTimeoutException) {
            return "no connection to " + uri.getAuthority() + " within " + settings.connectTimeoutMillis() + " ms";
        }
        if (e instanceof ConnectException) {
            return "nothing answers at " + uri.getAuthority() + " (connection refused)";
        }
        if (e instanceof java.net.SocketTimeoutException) {
            return "no answer within " + settings.answerTimeoutMillis() + " ms";
        }
        if (e instanceof SSLHandshakeException) {
            return "TLS failed: " + e.getMessage();
        }
        if (e instanceof org.apache.hc.core5.http.NoHttpResponseException) {
            return "the service closed the connection without an answer";
        }
        return "the connection broke: " + e.getMessage();
    }

    private static List<String[]> sentHeaders(HttpUriRequestBase request) {
        return headers(request.getHeaders());
    }

    private static List<String[]> headers(Header[] in) {
        List<String[]> out = new ArrayList<>(in.length);
        for (Header h : in) {
            out.add(new String[] {h.getName(), h.getName().equalsIgnoreCase("Authorization") ? "•••" : h.getValue()});
        }
        return out;
    }

    @Override
    public void close() {
        try {
            client.close();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException("closing the connections to " + settings.url() + " failed", e);
        }
    }
}
