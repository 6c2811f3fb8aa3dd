package org.wirekettle.call;

import java.io.IOException;
import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.UnknownHostException;
import java.security.cert.CertPathValidatorException;
import java.security.cert.CertificateExpiredException;
import java.security.cert.CertificateNotYetValidException;
import java.util.Locale;
import java.util.regex.Pattern;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLPeerUnverifiedException;
import org.apache.hc.client5.http.ConnectTimeoutException;
import org.apache.hc.core5.http.ConnectionClosedException;
import org.apache.hc.core5.http.ConnectionRequestTimeoutException;
import org.apache.hc.core5.http.MessageConstraintException;
import org.apache.hc.core5.http.NoHttpResponseException;
import org.apache.hc.core5.http.ProtocolException;

/** What a failed call is told as. Pure: from the failure and the connection's settings to words. */
final class TransportWords {
    /**
     * Alerts by which a service turns a client away before it reads a request; in TLS 1.3 they may come after it was
     * written.
     */
    private static final Pattern REFUSING_ALERT =
            Pattern.compile("(?i)received fatal alert: (certificate_required|bad_certificate"
                    + "|unsupported_certificate|certificate_revoked|certificate_expired|certificate_unknown|unknown_ca|"
                    + "access_denied"
                    + "|handshake_failure|protocol_version|insufficient_security|decrypt_error|"
                    + "no_application_protocol)");

    private TransportWords() {}

    /** Whether the service's TLS turned the call away, so that no request was read. */
    static boolean isRefusedByTls(Throwable e) {
        return find(e, SSLException.class) != null
                && REFUSING_ALERT
                        .matcher(String.valueOf(find(e, SSLException.class).getMessage()))
                        .find();
    }

    /** Whether the proxy did not let the call through: the service never saw it. */
    static boolean isRefusedByProxy(Throwable e) {
        return find(e, HttpCaller.ByProxy.class) != null;
    }

    /** What a failure is, and how it is told. */
    record Told(FailureCode code, String text) {}

    /** @param sent whether the request had begun to be sent */
    static Told of(Exception e, URI uri, HttpSettings settings, boolean sent) {
        HttpLimits limits = settings.limits();
        if (e instanceof HostPolicy.NotAllowed) {
            return new Told(FailureCode.NOT_ALLOWED, e.getMessage());
        }
        if (e instanceof AnswerBody.TooLong) {
            return new Told(FailureCode.TOO_LARGE, e.getMessage());
        }
        if (isRefusedByProxy(e)) {
            return new Told(
                    FailureCode.PROXY, "the proxy " + settings.proxy() + " does not let it through: " + plain(e));
        }
        if (e instanceof UnknownHostException) {
            return isProxys(e, settings)
                    ? new Told(
                            FailureCode.PROXY, "the proxy " + settings.proxy().host() + " has no address")
                    : new Told(FailureCode.NAME_NOT_FOUND, "the host " + uri.getHost() + " has no address");
        }
        if (e instanceof ConnectionRequestTimeoutException) {
            return new Told(
                    FailureCode.BUSY,
                    "all " + limits.parallel() + " connections of this connection's limit were busy for "
                            + time(limits.callMillis()));
        }
        String where = next(uri, settings);
        if (e instanceof ConnectTimeoutException) {
            return new Told(
                    FailureCode.CONNECT_TIMEOUT,
                    "no connection to " + where + " within " + time(limits.connectMillis()));
        }
        if (e instanceof NoRouteToHostException) {
            return new Told(FailureCode.NO_WAY, "there is no way to " + where + ": " + e.getMessage());
        }
        if (e instanceof ConnectException) {
            return new Told(FailureCode.REFUSED, "nothing answers at " + where + " (connection refused)");
        }
        if (find(e, SSLException.class) != null) {
            return tls(e, uri);
        }
        return e instanceof IOException && !sent
                ? new Told(FailureCode.UNREACHABLE, "no connection could be made to " + where + ": " + plain(e))
                : exchanged(e, settings);
    }

    private static boolean isProxys(Exception e, HttpSettings settings) {
        return settings.proxy() != null
                && String.valueOf(e.getMessage()).contains(settings.proxy().host());
    }

    /** Where a connection is opened to. */
    private static String next(URI uri, HttpSettings settings) {
        return settings.proxy() != null && settings.proxy().isFor(uri.getHost())
                ? "the proxy " + settings.proxy()
                : uri.getAuthority();
    }

    /** Once the request was under way. */
    private static Told exchanged(Exception e, HttpSettings settings) {
        if (e instanceof SocketTimeoutException) {
            HttpLimits limits = settings.limits();
            return new Told(
                    FailureCode.ANSWER_TIMEOUT,
                    "no answer within " + time(Math.min(limits.answerMillis(), limits.callMillis())));
        }
        if (e instanceof NoHttpResponseException) {
            return new Told(FailureCode.RESET, "the service closed the connection without an answer");
        }
        if (e instanceof MessageConstraintException) {
            return new Told(
                    FailureCode.TOO_LARGE,
                    "the answer has more or longer HTTP headers than are taken (" + HttpClientMaker.MAX_HEADERS
                            + " of at most " + HttpClientMaker.MAX_HEADER_BYTES + " bytes)");
        }
        if (e instanceof ConnectionClosedException) {
            return new Told(FailureCode.CUT_SHORT, "the answer broke off: " + plain(e));
        }
        if (e instanceof ProtocolException) {
            return new Told(FailureCode.NOT_HTTP, "what answers does not speak HTTP as it should: " + plain(e));
        }
        return new Told(FailureCode.RESET, "the connection broke: " + plain(e));
    }

    private static Told tls(Exception e, URI uri) {
        String host = uri.getHost();
        if (find(e, CertificateExpiredException.class) != null) {
            return new Told(FailureCode.TLS_EXPIRED, "TLS failed: the certificate of " + host + " has expired");
        }
        if (find(e, CertificateNotYetValidException.class) != null) {
            return new Told(FailureCode.TLS_EXPIRED, "TLS failed: the certificate of " + host + " is not valid yet");
        }
        if (find(e, SSLPeerUnverifiedException.class) != null) {
            return new Told(
                    FailureCode.TLS_NAME,
                    "TLS failed: the certificate is not for " + host + ": "
                            + plain(find(e, SSLPeerUnverifiedException.class)));
        }
        String text = plain(find(e, SSLException.class));
        String lower = text.toLowerCase(Locale.ROOT);
        if (lower.contains("no name matching") || lower.contains("no subject alternative")) {
            return new Told(FailureCode.TLS_NAME, "TLS failed: the certificate is not for " + host + ": " + text);
        }
        if (find(e, CertPathValidatorException.class) != null || lower.contains("path building failed")) {
            return new Told(
                    FailureCode.TLS_UNTRUSTED,
                    "TLS failed: the certificate of " + host
                            + " comes from an authority that is not known here; a probe"
                            + " shows it, and it can be trusted from there");
        }
        if (lower.contains("unrecognized ssl message")) {
            return new Told(
                    FailureCode.TLS_OTHER,
                    "TLS failed: " + uri.getAuthority()
                            + " does not speak TLS; perhaps the address should begin with http://");
        }
        return new Told(
                FailureCode.TLS_OTHER,
                REFUSING_ALERT.matcher(text).find()
                        ? "TLS failed: the service refuses the connection (" + text + ")"
                        : "TLS failed: " + text);
    }

    /** A length of time in words: {@code 300 ms}, {@code 30 s}, {@code 5 min}, {@code 2 h}. */
    static String time(int millis) {
        if (millis % 1000 != 0 || millis == 0) {
            return millis + " ms";
        }
        int seconds = millis / 1000;
        return seconds % 3600 == 0 ? seconds / 3600 + " h" : seconds % 60 == 0 ? seconds / 60 + " min" : seconds + " s";
    }

    private static String plain(Throwable e) {
        return e.getMessage() == null
                ? e.getClass().getSimpleName()
                : e.getMessage().replaceAll("\\s+", " ");
    }

    private static <T extends Throwable> T find(Throwable e, Class<T> kind) {
        int depth = 0;
        for (Throwable t = e; t != null && depth < 20; t = t.getCause(), depth++) {
            if (kind.isInstance(t)) {
                return kind.cast(t);
            }
        }
        return null;
    }
}
