package org.wirekettle.call;

import java.net.URI;
import java.util.Locale;
import java.util.Optional;

/** Where a redirect leads on to. Pure. */
final class Redirects {
    /** More are a circle. */
    static final int MAX = 5;

    private Redirects() {}

    /**
     * The address that an answer leads on to, for the same request once more (RFC 9110 §15.4). A 303 says that a POST
     * was worked on and its answer is elsewhere: that is none of them.
     */
    static Optional<URI> next(URI from, boolean isPost, Exchange x) {
        boolean leads =
                switch (x.status()) {
                    case 301, 302, 307, 308 -> true;
                    case 303 -> !isPost;
                    default -> false;
                };
        if (!leads) {
            return Optional.empty();
        }
        return x.answerHeaders().stream()
                .filter(h -> h[0].equalsIgnoreCase("Location"))
                .map(h -> h[1])
                .findFirst()
                .flatMap(l -> resolved(from, l));
    }

    private static Optional<URI> resolved(URI from, String location) {
        try {
            return Optional.of(HttpCaller.uri(
                    from.resolve(location.strip().replace(" ", "%20")).toString()));
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }

    /** Whether two addresses have the same scheme, host and port: a secret for one must not go to another. */
    static boolean isSameOrigin(URI a, URI b) {
        return origin(a).equals(origin(b));
    }

    static String origin(URI u) {
        int port = u.getPort() >= 0 ? u.getPort() : "https".equalsIgnoreCase(u.getScheme()) ? 443 : 80;
        return (u.getScheme() + "://" + u.getHost() + ":" + port).toLowerCase(Locale.ROOT);
    }
}
