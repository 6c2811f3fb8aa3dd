package org.wirekettle.call;

import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * A proxy that calls go through: https by a tunnel (CONNECT, RFC 9110 §9.3.6), http as requests to it. Immutable.
 *
 * @param user for the proxy's own log-in (Basic, Digest or NTLM, whichever it asks for); null for none
 * @param except hosts that are called without it: {@code berths.example}, or {@code .example} for all below
 */
public record HttpProxy(
        String host,
        int port,
        @Nullable String user,
        @Nullable String password,
        List<String> except) {
    private static final int USUAL_PORT = 8080;

    public HttpProxy {
        except = List.copyOf(except);
    }

    /**
     * @param address {@code proxy.example:3128}; {@code http://} before it may stand
     * @throws IllegalArgumentException in words, when it is none
     */
    public static HttpProxy of(String address, @Nullable String user, @Nullable String password, List<String> except) {
        String plain = address.strip().replaceFirst("(?i)^http://", "").replaceFirst("/$", "");
        java.net.URI uri;
        try {
            uri = java.net.URI.create("http://" + plain);
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("“" + address + "” is no address of a proxy", e);
        }
        boolean isMore = uri.getRawUserInfo() != null
                || uri.getRawQuery() != null
                || uri.getRawPath() != null && !uri.getRawPath().isEmpty();
        if (uri.getHost() == null || isMore || uri.getPort() > 65_535) {
            throw new IllegalArgumentException(
                    "“" + address + "” is no address of a proxy; it is a host and a port, such as proxy.example:3128");
        }
        return new HttpProxy(uri.getHost(), uri.getPort() < 0 ? USUAL_PORT : uri.getPort(), user, password, except);
    }

    /** Whether calls to the host go through it. */
    boolean isFor(String host) {
        String wanted = host.toLowerCase(Locale.ROOT);
        return except.stream()
                .map(e -> e.strip().toLowerCase(Locale.ROOT))
                .noneMatch(e -> e.startsWith(".") ? wanted.endsWith(e) : wanted.equals(e));
    }

    @Override
    public String toString() {
        return host + ":" + port;
    }
}
