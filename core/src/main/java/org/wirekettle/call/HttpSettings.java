package org.wirekettle.call;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How to reach one endpoint. Immutable.
 *
 * @param message what is added to SOAP messages
 * @param proxy null for the straight way
 */
public record HttpSettings(
        String url,
        HttpLogIn logIn,
        HttpLimits limits,
        MessageSettings message,
        TlsSettings tls,
        @Nullable HttpProxy proxy,
        HttpManner manner) {
    public static HttpSettings to(String url) {
        return new HttpSettings(
                url, HttpLogIn.NONE, HttpLimits.USUAL, MessageSettings.NONE, TlsSettings.USUAL, null, HttpManner.USUAL);
    }

    public HttpSettings at(String other) {
        return new HttpSettings(other, logIn, limits, message, tls, proxy, manner);
    }

    public HttpSettings loggingIn(HttpLogIn other) {
        return new HttpSettings(url, other, limits, message, tls, proxy, manner);
    }

    public HttpSettings limited(HttpLimits other) {
        return new HttpSettings(url, logIn, other, message, tls, proxy, manner);
    }

    public HttpSettings saying(MessageSettings other) {
        return new HttpSettings(url, logIn, limits, other, tls, proxy, manner);
    }

    public HttpSettings securedBy(TlsSettings other) {
        return new HttpSettings(url, logIn, limits, message, other, proxy, manner);
    }

    public HttpSettings through(@Nullable HttpProxy other) {
        return new HttpSettings(url, logIn, limits, message, tls, other, manner);
    }

    public HttpSettings in(HttpManner other) {
        return new HttpSettings(url, logIn, limits, message, tls, proxy, other);
    }

    public HttpSettings withParallel(int calls) {
        return limited(limits.atATime(calls));
    }

    public HttpSettings trusting(TlsTrust other) {
        return securedBy(tls.trusting(other));
    }

    /** Whether a secret goes with what is sent. */
    public boolean hasLogIn() {
        return logIn.isSecret() || manner.headers().stream().anyMatch(HttpManner.Header::isSecret);
    }

    /** What is hidden in everything shown of the calls. */
    Mask mask() {
        List<Mask> all = new ArrayList<>();
        all.add(Mask.of(logIn.user(), logIn.password()));
        if (proxy != null) {
            all.add(Mask.of(proxy.user(), proxy.password()));
        }
        message.secrets().forEach(v -> all.add(Mask.of(null, v)));
        manner.headers().stream().filter(HttpManner.Header::isSecret).forEach(h -> all.add(Mask.of(null, h.value())));
        return Mask.all(all);
    }

    @Override
    public String toString() {
        return "HttpSettings[" + url + ", " + logIn + "]";
    }
}
