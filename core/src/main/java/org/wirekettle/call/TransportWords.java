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

    /** @param sent whether the request had begun to be sent */
    static String of(Exception e, URI uri, HttpSettings settings, boolean sent) {
        if (e instanceof HostPolicy.NotAllowed || e instanceof HttpCaller.TooLong) {
            return e.getMessage();
        }
        if (e instanceof UnknownHostException) {
            return "the host " + uri.getHost() + " has no address";
        }
        if (e instanceof ConnectionRequestTimeoutException) {
            return "all " + settings.parallel() + " connections of this connection's limit were busy for "
                    + settings.callTimeoutMillis() + " ms";
        }
        if (e instanceof ConnectTimeoutException) {
            return "no connection to " + uri.getAuthority() + " within " + settings.connectTimeoutMillis() + " ms";
        }
        if (e instanceof NoRouteToHostException) {
            return "there is no way to " + uri.getAuthority() + ": " + e.getMessage();
        }
        if (e instanceof ConnectException) {
            return "nothing answers at " + uri.getAuthority() + " (connection refused)";
        }
        if (find(e, SSLException.class) != null) {
            return tls(e, uri);
        }
        return e instanceof IOException && !sent
                ? "no connection could be made to " + uri.getAuthority() + ": " + plain(e)
                : exchanged(e, settings);
    }

    /** Once the request was under way. */
    private static String exchanged(Exception e, HttpSettings settings) {
        if (e instanceof SocketTimeoutException) {
            return "no answer within " + settings.callTimeoutMillis() + " ms";
        }
        if (e instanceof NoHttpResponseException) {
            return "the service closed the connection without an answer";
        }
        if (e instanceof MessageConstraintException) {
            return "the answer has more or longer HTTP headers than are taken (" + HttpCaller.MAX_HEADERS
                    + " of at most " + HttpCaller.MAX_HEADER_BYTES + " bytes)";
        }
        if (e instanceof ConnectionClosedException) {
            return "the answer broke off: " + plain(e);
        }
        if (e instanceof ProtocolException) {
            return "what answers does not speak HTTP as it should: " + plain(e);
        }
        return "the connection broke: " + plain(e);
    }

    private static String tls(Exception e, URI uri) {
        String host = uri.getHost();
        if (find(e, CertificateExpiredException.class) != null) {
            return "TLS failed: the certificate of " + host + " has expired";
        }
        if (find(e, CertificateNotYetValidException.class) != null) {
            return "TLS failed: the certificate of " + host + " is not valid yet";
        }
        if (find(e, SSLPeerUnverifiedException.class) != null) {
            return "TLS failed: the certificate is not for " + host + ": "
                    + plain(find(e, SSLPeerUnverifiedException.class));
        }
        String text = plain(find(e, SSLException.class));
        String lower = text.toLowerCase(Locale.ROOT);
        if (find(e, CertPathValidatorException.class) != null || lower.contains("path building failed")) {
            return "TLS failed: the certificate of " + host + " comes from an authority that is not known here; a probe"
                    + " shows it, and it can be trusted from there";
        }
        if (lower.contains("unrecognized ssl message")) {
            return "TLS failed: " + uri.getAuthority()
                    + " does not speak TLS; perhaps the address should begin with http://";
        }
        return REFUSING_ALERT.matcher(text).find()
                ? "TLS failed: the service refuses the connection (" + text + ")"
                : "TLS failed: " + text;
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
