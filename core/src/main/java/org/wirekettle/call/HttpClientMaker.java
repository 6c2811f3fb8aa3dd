package org.wirekettle.call;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.ArrayList;
import java.util.List;
import javax.net.ssl.SSLSocket;
import org.apache.hc.client5.http.DnsResolver;
import org.apache.hc.client5.http.SystemDefaultDnsResolver;
import org.apache.hc.client5.http.auth.AuthSchemeFactory;
import org.apache.hc.client5.http.auth.AuthScope;
import org.apache.hc.client5.http.auth.Credentials;
import org.apache.hc.client5.http.auth.NTCredentials;
import org.apache.hc.client5.http.auth.StandardAuthScheme;
import org.apache.hc.client5.http.auth.UsernamePasswordCredentials;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.auth.BasicCredentialsProvider;
import org.apache.hc.client5.http.impl.auth.BasicSchemeFactory;
import org.apache.hc.client5.http.impl.auth.DigestSchemeFactory;
import org.apache.hc.client5.http.impl.auth.NTLMSchemeFactory;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClientBuilder;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.ManagedHttpClientConnectionFactory;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManager;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.client5.http.impl.routing.DefaultRoutePlanner;
import org.apache.hc.client5.http.ssl.DefaultClientTlsStrategy;
import org.apache.hc.client5.http.ssl.HostnameVerificationPolicy;
import org.apache.hc.client5.http.ssl.NoopHostnameVerifier;
import org.apache.hc.client5.http.ssl.TlsSocketStrategy;
import org.apache.hc.core5.http.HttpHost;
import org.apache.hc.core5.http.config.Http1Config;
import org.apache.hc.core5.http.config.RegistryBuilder;
import org.apache.hc.core5.http.impl.io.HttpRequestExecutor;
import org.apache.hc.core5.http.protocol.HttpContext;
import org.apache.hc.core5.pool.PoolConcurrencyPolicy;
import org.apache.hc.core5.pool.PoolReusePolicy;
import org.apache.hc.core5.reactor.ssl.SSLBufferMode;
import org.apache.hc.core5.util.TimeValue;
import org.apache.hc.core5.util.Timeout;
import org.wirekettle.call.HttpLogIn.Kind;

/** Makes the HTTP client for one endpoint: it does what the settings say, and nothing by itself. */
final class HttpClientMaker {
    /** HTTP headers of one answer, and bytes of each: a service has no use for more. */
    static final int MAX_HEADERS = 200;

    static final int MAX_HEADER_BYTES = 64 * 1024;
    /** A connection idle for longer is looked at before use, since services close them. */
    private static final int VALIDATE_AFTER_IDLE_MILLIS = 500;

    private final HttpSettings settings;
    private final URI uri;
    private final HostPolicy policy;

    HttpClientMaker(HttpSettings settings, URI uri, HostPolicy policy) {
        this.settings = settings;
        this.uri = uri;
        this.policy = policy;
    }

    CloseableHttpClient make(HttpRequestExecutor executor) {
        HttpClientBuilder out = HttpClients.custom()
                .setConnectionManager(pool())
                .setRoutePlanner(routes())
                .setRequestExecutor(executor)
                .disableAutomaticRetries()
                .disableRedirectHandling()
                .disableAuthCaching()
                // A caller has one log-in: who is known on a connection stays known there.
                .disableConnectionState()
                .setUserAgent(settings.manner().userAgent())
                .setDefaultRequestConfig(requests());
        if (!settings.manner().isKeepingCookies()) {
            out.disableCookieManagement();
        }
        if (settings.manner().isClosing()) {
            out.setConnectionReuseStrategy((request, response, context) -> false);
        }
        logIns(out);
        return out.build();
    }

    private RequestConfig requests() {
        Kind kind = settings.logIn().kind();
        String scheme =
                switch (kind) {
                    case BASIC_ASKED -> StandardAuthScheme.BASIC;
                    case NTLM -> StandardAuthScheme.NTLM;
                    default -> StandardAuthScheme.DIGEST;
                };
        return RequestConfig.custom()
                .setConnectionRequestTimeout(
                        Timeout.ofMilliseconds(settings.limits().callMillis()))
                .setResponseTimeout(Timeout.ofMilliseconds(settings.limits().answerMillis()))
                .setExpectContinueEnabled(settings.manner().isAnnounced())
                .setTargetPreferredAuthSchemes(List.of(scheme))
                .setProxyPreferredAuthSchemes(
                        List.of(StandardAuthScheme.DIGEST, StandardAuthScheme.NTLM, StandardAuthScheme.BASIC))
                .build();
    }

    private PoolingHttpClientConnectionManager pool() {
        HttpLimits limits = settings.limits();
        PoolingHttpClientConnectionManagerBuilder out = PoolingHttpClientConnectionManagerBuilder.create();
        TlsSettings tls = settings.tls();
        TlsSocketStrategy strategy = tls.equals(TlsSettings.USUAL)
                ? DefaultClientTlsStrategy.createDefault()
                : tls.isAnyName()
                        ? new DefaultClientTlsStrategy(
                                tls.context(),
                                tls.lowest().andLater(),
                                null,
                                SSLBufferMode.STATIC,
                                HostnameVerificationPolicy.CLIENT,
                                NoopHostnameVerifier.INSTANCE)
                        : new DefaultClientTlsStrategy(
                                tls.context(), tls.lowest().andLater(), null, SSLBufferMode.STATIC, null);
        return out.setTlsSocketStrategy(watched(strategy))
                .setMaxConnPerRoute(limits.parallel())
                .setMaxConnTotal(limits.parallel())
                .setPoolConcurrencyPolicy(PoolConcurrencyPolicy.LAX)
                .setConnPoolPolicy(PoolReusePolicy.LIFO)
                .setDnsResolver(guarded())
                .setConnectionFactory(ManagedHttpClientConnectionFactory.builder()
                        .http1Config(Http1Config.custom()
                                .setMaxHeaderCount(MAX_HEADERS)
                                .setMaxLineLength(MAX_HEADER_BYTES)
                                .build())
                        .build())
                .setDefaultConnectionConfig(ConnectionConfig.custom()
                        .setConnectTimeout(
                                Timeout.ofMilliseconds(Math.min(limits.connectMillis(), limits.callMillis())))
                        .setSocketTimeout(Timeout.ofMilliseconds(limits.answerMillis()))
                        .setValidateAfterInactivity(TimeValue.ofMilliseconds(VALIDATE_AFTER_IDLE_MILLIS))
                        .build())
                .build();
    }

    /** No proxy of the process's settings: only what the connection says. */
    private DefaultRoutePlanner routes() {
        HttpProxy proxy = settings.proxy();
        return new DefaultRoutePlanner(null) {
            @Override
            protected HttpHost determineProxy(HttpHost target, HttpContext context) {
                return proxy == null || !proxy.isFor(target.getHostName())
                        ? null
                        : new HttpHost(proxy.host(), proxy.port());
            }
        };
    }

    /** Each only for the place it is meant for. */
    private void logIns(HttpClientBuilder out) {
        BasicCredentialsProvider known = new BasicCredentialsProvider();
        HttpLogIn own = settings.logIn();
        boolean isAsked = own.kind() == Kind.BASIC_ASKED || own.kind() == Kind.DIGEST || own.kind() == Kind.NTLM;
        if (isAsked && own.user() != null) {
            char[] password = chars(own.password());
            Credentials who = own.kind() == Kind.NTLM
                    ? new NTCredentials(own.user(), password, null, own.domain())
                    : new UsernamePasswordCredentials(own.user(), password);
            int port = uri.getPort() >= 0 ? uri.getPort() : "https".equalsIgnoreCase(uri.getScheme()) ? 443 : 80;
            known.setCredentials(new AuthScope(new HttpHost(uri.getScheme(), uri.getHost(), port)), who);
        }
        HttpProxy proxy = settings.proxy();
        if (proxy != null && proxy.user() != null) {
            char[] password = chars(proxy.password());
            AuthScope place = new AuthScope(proxy.host(), proxy.port());
            known.setCredentials(place, new UsernamePasswordCredentials(proxy.user(), password));
            String[] account = proxy.user().split("\\\\", 2);
            known.setCredentials(
                    new AuthScope(null, proxy.host(), proxy.port(), null, StandardAuthScheme.NTLM),
                    account.length == 2
                            ? new NTCredentials(account[1], password, null, account[0])
                            : new NTCredentials(proxy.user(), password, null, null));
        }
        out.setDefaultCredentialsProvider(known)
                .setDefaultAuthSchemeRegistry(RegistryBuilder.<AuthSchemeFactory>create()
                        .register(StandardAuthScheme.BASIC, BasicSchemeFactory.INSTANCE)
                        .register(StandardAuthScheme.DIGEST, DigestSchemeFactory.INSTANCE)
                        .register(StandardAuthScheme.NTLM, NTLMSchemeFactory.INSTANCE)
                        .build());
    }

    private static char[] chars(String secret) {
        return secret == null ? new char[0] : secret.toCharArray();
    }

    private DnsResolver guarded() {
        return new DnsResolver() {
            @Override
            public List<InetSocketAddress> resolve(String host, int port) throws UnknownHostException {
                List<InetSocketAddress> out = new ArrayList<>();
                for (InetAddress a : allowed(host, port)) {
                    out.add(new InetSocketAddress(a, port));
                }
                return out;
            }

            @Override
            public InetAddress[] resolve(String host) throws UnknownHostException {
                return allowed(host, -1);
            }

            @Override
            public String resolveCanonicalHostname(String host) {
                return host;
            }
        };
    }

    private static TlsSocketStrategy watched(TlsSocketStrategy strategy) {
        return (socket, target, port, attachment, context) -> {
            WayWatch watch = WayWatch.current();
            if (watch != null) {
                watch.agreesOnTls();
            }
            SSLSocket out = strategy.upgrade(socket, target, port, attachment, context);
            if (watch != null) {
                watch.agreed();
            }
            return out;
        };
    }

    private InetAddress[] allowed(String host, int port) throws UnknownHostException {
        WayWatch watch = WayWatch.current();
        if (watch != null) {
            watch.looksUpName();
        }
        InetAddress[] found = SystemDefaultDnsResolver.INSTANCE.resolve(host);
        if (watch != null) {
            watch.connects();
        }
        String refusal = policy.refusal(host, port, found);
        if (refusal != null) {
            throw new HostPolicy.NotAllowed(refusal);
        }
        return found;
    }
}
