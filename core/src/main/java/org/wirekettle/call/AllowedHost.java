package org.wirekettle.call;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * An entry of the allow-list: a word for a group of addresses, a host, all hosts below a domain, or a network.
 * Immutable.
 *
 * @param port null for all
 * @param network its first address; null where it is a word or a name
 * @param bits that are the same in all addresses of the network
 */
record AllowedHost(String text, String name, @Nullable Integer port, byte @Nullable [] network, int bits) {
    private static final List<String> WORDS = List.of("loopback", "private", "jdbc", HostPolicy.LISTED_ONLY);
    private static final Pattern NAME = Pattern.compile("(\\.?[a-z0-9_]([a-z0-9._-]{0,250}))(?::(\\d{1,5}))?");
    private static final Pattern NETWORK = Pattern.compile("([0-9a-f.:]{2,45})/(\\d{1,3})");
    private static final int MAX_PORT = 65_535;

    /**
     * Reads one: {@code loopback}, {@code private}, {@code jdbc} (databases whose address names no host),
     * {@code listed-only}; {@code berths.example}, {@code berths.example:8443}, {@code .example} for all below it;
     * {@code 10.20.0.0/16}.
     *
     * @return empty when it is none
     */
    static Optional<AllowedHost> of(String entry) {
        String text = entry.strip().toLowerCase(Locale.ROOT);
        if (WORDS.contains(text)) {
            return Optional.of(new AllowedHost(text, text, null, null, 0));
        }
        Matcher network = NETWORK.matcher(text);
        if (network.matches()) {
            return network(text, network.group(1), Integer.parseInt(network.group(2)));
        }
        Matcher name = NAME.matcher(text);
        if (!name.matches()) {
            return literal(text);
        }
        Integer port = name.group(3) == null ? null : Integer.valueOf(name.group(3));
        return port != null && port > MAX_PORT
                ? Optional.empty()
                : Optional.of(new AllowedHost(text, name.group(1), port, null, 0));
    }

    /** An IPv6 address, which no name looks like. */
    private static Optional<AllowedHost> literal(String text) {
        return text.matches("\\[?[0-9a-f:]{2,45}]?") && text.indexOf(':') >= 0
                ? Optional.of(new AllowedHost(text, text.replaceAll("[\\[\\]]", ""), null, null, 0))
                : Optional.empty();
    }

    private static Optional<AllowedHost> network(String text, String address, int bits) {
        try {
            // Of digits, dots and colons alone: nothing is looked up.
            byte[] first = InetAddress.getByName(address).getAddress();
            return bits > first.length * 8
                    ? Optional.empty()
                    : Optional.of(new AllowedHost(text, "", null, first, bits));
        } catch (UnknownHostException e) {
            return Optional.empty();
        }
    }

    boolean isWord(String word) {
        return name.equals(word) && WORDS.contains(word);
    }

    boolean isFor(String host, int asked, InetAddress address) {
        return network != null ? isInside(address.getAddress()) : isNamed(host, asked);
    }

    /** Whether the host is allowed by its name. */
    boolean isNamed(String host, int asked) {
        if (network != null || WORDS.contains(name) || port != null && port != asked) {
            return false;
        }
        String wanted = host.toLowerCase(Locale.ROOT).replaceAll("[\\[\\]]", "");
        return name.startsWith(".") ? wanted.endsWith(name) : wanted.equals(name);
    }

    private boolean isInside(byte[] address) {
        if (address.length != network.length) {
            return false;
        }
        for (int bit = 0; bit < bits; bit++) {
            int mask = 0x80 >> bit % 8;
            if ((address[bit / 8] & mask) != (network[bit / 8] & mask)) {
                return false;
            }
        }
        return true;
    }
}
