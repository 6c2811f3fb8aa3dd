package org.wirekettle.call;

import java.io.IOException;
import java.net.URI;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.xml.SafeXml;

/**
 * Fetches description documents over HTTP. Follows redirects, each checked by the policy like the first address.
 * Shareable.
 */
public final class DocumentFetch {
    private static final int MAX_REDIRECTS = 5;
    private static final int CONNECT_TIMEOUT_MILLIS = 10_000;
    private static final int CALL_TIMEOUT_MILLIS = 30_000;

    private final HostPolicy policy;
    private final Supplier<TlsTrust> trust;

    private final int callTimeoutMillis;

    public DocumentFetch(HostPolicy policy) {
        this(policy, () -> TlsTrust.SYSTEM);
    }

    /** @param trust whose certificates are believed, asked for each document */
    public DocumentFetch(HostPolicy policy, Supplier<TlsTrust> trust) {
        this(policy, CALL_TIMEOUT_MILLIS, trust);
    }

    /** @param callTimeoutMillis for each document */
    DocumentFetch(HostPolicy policy, int callTimeoutMillis, Supplier<TlsTrust> trust) {
        this.trust = trust;
        this.policy = policy;
        this.callTimeoutMillis = callTimeoutMillis;
    }

    /** @throws IOException with the reason in words */
    public byte[] get(String url) throws IOException {
        return get(url, null);
    }

    /**
     * As a connection does, whose log-in goes only to the host that was asked for, wherever that leads on to.
     *
     * @param as how to log in, and whom to believe beside those always believed here; null for nobody
     */
    public byte[] get(String url, @Nullable HttpSettings as) throws IOException {
        String at = url;
        for (int redirects = 0; redirects <= MAX_REDIRECTS; redirects++) {
            Exchange x = once(at, as != null && isSameOrigin(at, url) ? as : HttpSettings.to(at));
            if (x.outcome() != Outcome.ANSWERED) {
                throw new IOException(x.problem());
            }
            if (x.status() == 200) {
                return x.answer();
            }
            String location = x.status() / 100 != 3
                    ? null
                    : x.answerHeaders().stream()
                            .filter(h -> h[0].equalsIgnoreCase("Location"))
                            .map(h -> h[1])
                            .findFirst()
                            .orElse(null);
            if (location == null) {
                throw new IOException("the address answers with HTTP status " + x.status());
            }
            try {
                at = URI.create(at).resolve(location.strip()).toString();
            } catch (IllegalArgumentException e) {
                throw new IOException("the address leads on to “" + location + "”, which is none", e);
            }
        }
        throw new IOException("the address leads on more than " + MAX_REDIRECTS + " times");
    }

    /** Whether two addresses have the same scheme, host and port: a log-in for one must not go to another. */
    public static boolean isSameOrigin(String a, String b) {
        try {
            return Redirects.isSameOrigin(URI.create(a.strip()), URI.create(b.strip()));
        } catch (IllegalArgumentException e) {
            return a.equals(b);
        }
    }

    private Exchange once(String url, HttpSettings as) throws IOException {
        try (HttpCaller http = new HttpCaller(
                as.at(url)
                        .saying(MessageSettings.NONE)
                        .limited(HttpLimits.USUAL
                                .within(CONNECT_TIMEOUT_MILLIS, callTimeoutMillis)
                                .atATime(1)
                                .atMost(SafeXml.MAX_DOCUMENT_BYTES))
                        .securedBy(as.tls().and(trust.get())),
                policy)) {
            return http.get();
        } catch (IllegalArgumentException e) {
            throw new IOException(e.getMessage(), e);
        }
    }
}
