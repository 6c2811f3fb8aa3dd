package org.wirekettle.server.connections;

import java.net.URI;
import java.util.LinkedHashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.wirekettle.call.HttpProxy;
import org.wirekettle.connector.queue.BrokerAddress;

/** Where the secrets of a connection go. Pure. */
final class SecretPlaces {
    private SecretPlaces() {}

    /** @return by name of the secret, in all environments: origins of addresses, and proxies */
    static Map<String, Set<String>> of(ConnectionSettings c) {
        Map<String, Set<String>> out = new TreeMap<>();
        for (String environment : c.environments().keySet()) {
            Settings s = c.in(environment);
            if (s.url() == null || s.url().isBlank()) {
                continue;
            }
            String by = by(s);
            String there = there(s);
            add(out, s.secret(), there);
            if ("oauth".equals(s.logIn()) && s.tokenUrl() != null) {
                add(out, s.secret(), origin(s.tokenUrl()) + by);
            }
            if (!by.isEmpty()) {
                add(out, s.proxySecret(), proxy(s.proxy()));
            }
            s.ownHeaders().forEach(h -> add(out, h.secret(), there));
            s.messageRows().forEach(r -> add(out, r.secret(), there));
            if (s.session() != null) {
                s.session().rows().forEach(r -> add(out, r.secret(), there));
            }
        }
        return out;
    }

    /** Where messages go: who stands between may read them, so that they go by a proxy is part of the place. */
    static String there(Settings s) {
        return s.url() == null ? "" : origin(s.url()) + by(s);
    }

    private static String by(Settings s) {
        return s.proxy() == null || s.proxy().isBlank() ? "" : " by " + proxy(s.proxy());
    }

    private static void add(Map<String, Set<String>> to, String secret, String place) {
        if (secret != null && !secret.isBlank()) {
            to.computeIfAbsent(secret, n -> new LinkedHashSet<>()).add(place);
        }
    }

    private static String proxy(String address) {
        try {
            return "proxy " + HttpProxy.of(address, null, null, java.util.List.of());
        } catch (IllegalArgumentException e) {
            return "proxy " + address;
        }
    }

    /** What an address leads to: its scheme, host and port. */
    static String origin(String url) {
        try {
            if (url.startsWith("jdbc:")) {
                return JdbcAddress.of(url).origin();
            }
            if (url.startsWith("amqp")) {
                return BrokerAddress.of(url).toString();
            }
            URI u = URI.create(url.strip().replace(" ", "%20"));
            int port = u.getPort() >= 0 ? u.getPort() : "https".equalsIgnoreCase(u.getScheme()) ? 443 : 80;
            return (u.getScheme() + "://" + u.getHost() + ":" + port).toLowerCase(Locale.ROOT);
        } catch (IllegalArgumentException e) {
            return url;
        }
    }
}
