package org.wirekettle.call;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import java.util.zip.GZIPOutputStream;
import org.apache.hc.client5.http.classic.methods.HttpGet;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.client5.http.entity.GzipCompressingEntity;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.protocol.HttpClientContext;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.jspecify.annotations.Nullable;
import org.wirekettle.attachment.Outgoing;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.http.HttpMessage;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.soap.Security;

/**
 * Makes calls to one endpoint over kept connections. Never repeats a call by itself: whoever calls decides, knowing the
 * {@link Outcome}. Shareable by threads; close it when the endpoint is no longer used.
 */
public final class HttpCaller implements AutoCloseable {
    private static final String AUTHORIZATION = "Authorization";
    private static final String HIDDEN = SecretValues.SHOWN_AS;
    private static final int UNAUTHORIZED = 401;
    private static final int PROXY_LOG_IN = 407;

    private final HttpSettings settings;
    private final HostPolicy policy;
    private final CloseableHttpClient client;
    private final URI uri;
    private final String shownUrl;
    /** Name and value of what goes with each request; null for nothing. */
    private final String[] authorization;

    /** Null unless tokens are had for the log-in. */
    private final OAuthToken tokens;

    private final Hiding hiding;

    public HttpSettings settings() {
        return settings;
    }

    /** @throws IllegalArgumentException when the address is no http or https URL */
    public HttpCaller(HttpSettings settings, HostPolicy policy) {
        this.settings = settings;
        this.policy = policy;
        boolean isOfHttp = settings.message().token() == Security.Token.NONE;
        HttpLogIn logIn = isOfHttp ? settings.logIn() : HttpLogIn.NONE;
        this.uri = uri(withKey(settings.url(), logIn, logIn.password()));
        this.hiding = new Hiding(settings.mask());
        this.shownUrl = withKey(settings.url(), logIn, HIDDEN);
        this.authorization = authorization(logIn);
        boolean hasTokens = logIn.kind() == HttpLogIn.Kind.OAUTH && logIn.user() != null;
        this.tokens = hasTokens ? new OAuthToken(settings, policy) : null;
        this.client = new HttpClientMaker(settings.loggingIn(logIn), uri, policy).make(PendingCall.marking());
    }

    private static String withKey(String url, HttpLogIn logIn, String key) {
        if (logIn.kind() != HttpLogIn.Kind.QUERY_KEY || logIn.password() == null) {
            return url;
        }
        String parameter = URLEncoder.encode(logIn.keyName(), StandardCharsets.UTF_8) + "="
                + (key.equals(HIDDEN) ? HIDDEN : URLEncoder.encode(key, StandardCharsets.UTF_8));
        return url.strip() + (url.indexOf('?') < 0 ? "?" : "&") + parameter;
    }

    private static String[] authorization(HttpLogIn s) {
        String password = s.password() == null ? "" : s.password();
        return switch (s.kind()) {
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
            case KEY -> password.isEmpty() ? null : new String[] {s.keyName(), password};
            case BASIC_ASKED, DIGEST, NTLM, QUERY_KEY, OAUTH -> null;
        };
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

    /** Ends the calls under way: those that were being sent are in doubt. */
    public void abort() {
        if (tokens != null) {
            tokens.abort();
        }
        Deadlines.underWay(p -> {
            if (p instanceof PendingCall c && c.caller() == this) {
                c.end(FailureCode.ENDED, "the call was ended when the run was stopped");
            }
        });
    }

    /** What is hidden in everything shown of this endpoint's calls. */
    public Mask mask() {
        return hiding.mask();
    }

    /** What else is hidden: it goes inside messages, and comes and goes. */
    Hiding hiding() {
        return hiding;
    }

    /** Posts a body with the given further headers. Never throws for what networks do. */
    public Exchange post(String contentType, List<String[]> headers, byte[] body) {
        byte[] sent = settings.manner().isPacked() ? packed(body) : body;
        HttpEntity entity =
                new ByteArrayEntity(sent, null, null, settings.manner().isChunked());
        return post(contentType, headers, entity, body);
    }

    /** Posts what is read while it is sent. @param shown the request as it is kept */
    Exchange post(Outgoing message, List<String[]> headers, byte[] shown) {
        HttpEntity plain =
                new ContentEntity(message.content(), settings.manner().isChunked());
        return post(
                message.contentType(),
                headers,
                settings.manner().isPacked() ? new GzipCompressingEntity(plain) : plain,
                shown);
    }

    private Exchange post(String contentType, List<String[]> headers, HttpEntity entity, byte[] shown) {
        return exchange(
                to -> {
                    HttpPost request = new HttpPost(to);
                    request.setEntity(entity);
                    request.setHeader("Content-Type", contentType);
                    if (settings.manner().isPacked()) {
                        request.setHeader("Content-Encoding", "gzip");
                    }
                    headers.forEach(h -> request.setHeader(h[0], h[1]));
                    return request;
                },
                uri,
                shown,
                true);
    }

    /** A call that was not made. @param why in words */
    Exchange notMade(byte[] body, FailureCode code, String why) {
        return unsent(new HttpPost(uri), uri, body, code, why);
    }

    /** Fetches a document. */
    public Exchange get() {
        return exchange(HttpGet::new, uri, new byte[0], false);
    }

    /**
     * Sends a request below the address. Never throws for what networks do.
     *
     * @param more headers beside its own
     * @param shown the request as it is kept
     * @throws IllegalArgumentException when its path is no part of an address
     */
    Exchange send(HttpMessage message, List<String[]> more, byte[] shown) {
        URI to = below(message.target());
        byte[] sent =
                settings.manner().isPacked() && message.body().length > 0 ? packed(message.body()) : message.body();
        boolean isAsking = message.method().equals("GET") || message.method().equals("HEAD");
        return exchange(
                at -> {
                    HttpUriRequestBase request = new HttpUriRequestBase(message.method(), at);
                    message.headers().forEach(h -> request.addHeader(h[0], h[1]));
                    more.forEach(h -> request.setHeader(h[0], h[1]));
                    if (message.body().length > 0) {
                        request.setEntity(new ByteArrayEntity(
                                sent, null, null, settings.manner().isChunked()));
                        if (settings.manner().isPacked()) {
                            request.setHeader("Content-Encoding", "gzip");
                        }
                    }
                    return request;
                },
                to,
                shown,
                !isAsking);
    }

    /** The address of a path below ours, with our own query, such as a key, behind its. */
    private URI below(String target) {
        int sign = target.indexOf('?');
        String path = sign < 0 ? target : target.substring(0, sign);
        String ours = uri.getRawPath() == null ? "" : uri.getRawPath().replaceFirst("/+$", "");
        String query = (sign < 0 ? "" : target.substring(sign + 1))
                + (uri.getRawQuery() == null ? "" : (sign < 0 ? "" : "&") + uri.getRawQuery());
        String all = uri.getScheme() + "://" + uri.getRawAuthority() + ours
                + path.replace("[", "%5B").replace("]", "%5D").replace("|", "%7C")
                + (query.isEmpty()
                        ? ""
                        : "?" + query.replace("[", "%5B").replace("]", "%5D").replace("|", "%7C"));
        URI out = uri(all);
        if (!Redirects.isSameOrigin(uri, out)) {
            throw new IllegalArgumentException("“" + target + "” leads to another host");
        }
        return out;
    }

    private static byte[] packed(byte[] body) {
        ByteArrayOutputStream out = new ByteArrayOutputStream(body.length / 2);
        try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
            zip.write(body);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException("memory takes all that is written", e);
        }
        return out.toByteArray();
    }

    /** Where redirects are followed, to where they lead; what is secret goes to no other origin. */
    private Exchange exchange(Function<URI, HttpUriRequestBase> request, URI to, byte[] body, boolean isPost) {
        Exchange x = loggedIn(request, to, body);
        URI at = to;
        for (int n = 0; settings.manner().isFollowing() && n < Redirects.MAX; n++) {
            Optional<URI> next = x.outcome() == Outcome.ANSWERED ? Redirects.next(at, isPost, x) : Optional.empty();
            if (next.isEmpty()) {
                break;
            }
            at = next.get();
            boolean isHome = Redirects.isSameOrigin(uri, at);
            if (!isHome && (settings.message().isSecret() || hiding.isInMessages())) {
                // The log-in, or a session, is in the message itself.
                break;
            }
            x = isHome ? loggedIn(request, at, body) : exchange(request.apply(at), at, body);
        }
        return x;
    }

    private Exchange loggedIn(Function<URI, HttpUriRequestBase> request, URI at, byte[] body) {
        return tokens == null ? exchange(request.apply(at), at, body) : withToken(request, at, body);
    }

    /** With a token, where the log-in goes so; one that is refused is had anew, once: nothing was worked on then. */
    private Exchange withToken(Function<URI, HttpUriRequestBase> request, URI at, byte[] body) {
        Exchange refused = null;
        for (int attempt = 1; ; attempt++) {
            HttpUriRequestBase r = request.apply(at);
            String token;
            try {
                token = tokens.get();
            } catch (IOException e) {
                return refused != null ? refused : unsent(r, at, body, FailureCode.NO_TOKEN, e.getMessage());
            }
            r.setHeader(AUTHORIZATION, "Bearer " + token);
            hiding.token(token);
            Exchange x = exchange(r, at, body);
            if (x.status() != UNAUTHORIZED || attempt > 1) {
                return x;
            }
            tokens.refused(token);
            refused = x;
        }
    }

    private Exchange unsent(HttpUriRequestBase request, URI at, byte[] body, FailureCode code, String why) {
        return new Exchange(
                Outcome.UNREACHABLE,
                shown(at),
                headers(request.getHeaders()),
                body,
                0,
                List.of(),
                new byte[0],
                why,
                code,
                0,
                0,
                Way.UNKNOWN,
                mask());
    }

    /** Once. Secrets go only where they are meant to. */
    private Exchange exchange(HttpUriRequestBase request, URI at, byte[] body) {
        boolean isHome = at == uri || Redirects.isSameOrigin(uri, at);
        if (authorization != null && isHome) {
            request.setHeader(authorization[0], authorization[1]);
        }
        for (HttpManner.Header h : settings.manner().headers()) {
            if (isHome || !h.isSecret()) {
                request.setHeader(h.name(), h.value());
            }
        }
        String refusal = refusedBehindProxy(request);
        if (refusal != null) {
            return unsent(request, at, body, FailureCode.NOT_ALLOWED, refusal);
        }
        PendingCall call =
                new PendingCall(this, request, shown(at), settings.limits().callMillis());
        HttpClientContext context = call.context();
        try {
            return client.execute(request, context, response -> answered(call, body, response));
        } catch (IOException | IllegalStateException e) {
            // An aborted request may also be refused as one that was shut down already.
            return failed(call, body, e);
        } finally {
            call.close();
        }
    }

    /** A proxy looks the host up by itself: the policy is asked before. Null when it may be called. */
    private @Nullable String refusedBehindProxy(HttpUriRequestBase request) {
        HttpProxy proxy = settings.proxy();
        if (proxy == null) {
            return null;
        }
        String host = request.getAuthority().getHostName();
        int port = request.getAuthority().getPort();
        int usual = "https".equalsIgnoreCase(request.getScheme()) ? 443 : 80;
        return proxy.isFor(host) ? policy.refusalBehind(proxy, host, port < 0 ? usual : port) : null;
    }

    /** The address as it may be shown. */
    private String shown(URI at) {
        return at == uri ? shownUrl : mask().hide(at.toString());
    }

    private Exchange answered(PendingCall call, byte[] body, ClassicHttpResponse response) throws IOException {
        if (settings.proxy() != null && (!call.isSending() || response.getCode() == PROXY_LOG_IN)) {
            throw new ByProxy(response.getCode());
        }
        long head = System.nanoTime();
        byte[] answer = AnswerBody.read(
                response.getEntity(),
                settings.limits().maxAnswerBytes(),
                settings.message().attachments());
        long end = System.nanoTime();
        return new Exchange(
                Outcome.ANSWERED,
                call.url(),
                headers(call.request().getHeaders()),
                body,
                response.getCode(),
                headers(response.getHeaders()),
                answer,
                null,
                null,
                TimeUnit.NANOSECONDS.toMicros(head - call.startNanos()),
                TimeUnit.NANOSECONDS.toMicros(end - head),
                call.way(),
                mask());
    }

    /** What answered is the proxy, which let nothing through. */
    static final class ByProxy extends IOException {
        private static final long serialVersionUID = 1;

        ByProxy(int status) {
            super(
                    status == PROXY_LOG_IN
                            ? "it wants a log-in, or another one"
                            : "it answers with HTTP status " + status);
        }
    }

    private Exchange failed(PendingCall call, byte[] body, Exception e) {
        boolean unsent = !call.isSending() || TransportWords.isRefusedByTls(e) || TransportWords.isRefusedByProxy(e);
        TransportWords.Told told =
                call.ended() != null ? call.ended() : TransportWords.of(e, uri, settings, call.isSending());
        Outcome outcome = unsent ? Outcome.UNREACHABLE : Outcome.IN_DOUBT;
        long micros = TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - call.startNanos());
        return new Exchange(
                outcome,
                call.url(),
                headers(call.request().getHeaders()),
                body,
                0,
                List.of(),
                new byte[0],
                told.text(),
                told.code().fitting(outcome),
                micros,
                0,
                call.way(),
                mask());
    }

    private List<String[]> headers(Header[] in) {
        List<String[]> out = new ArrayList<>(in.length);
        for (Header h : in) {
            out.add(new String[] {h.getName(), isSecret(h.getName()) ? HIDDEN : h.getValue()});
        }
        return out;
    }

    private boolean isSecret(String header) {
        return header.equalsIgnoreCase(AUTHORIZATION)
                || header.equalsIgnoreCase("Proxy-Authorization")
                || authorization != null && header.equalsIgnoreCase(authorization[0])
                || settings.manner().headers().stream()
                        .anyMatch(h -> h.isSecret() && h.name().equalsIgnoreCase(header));
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
