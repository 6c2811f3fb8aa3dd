package org.wirekettle.call;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * Which hosts may be called. Public addresses may, unless only what is listed; those of this machine and of private
 * networks only when allowed, so that nobody can reach the inside of a network through the product; those that are
 * nobody's never. Shareable by threads.
 */
public final class HostPolicy {
    /** The word that public addresses are only called when they are listed, too. */
    public static final String LISTED_ONLY = "listed-only";

    private static final String LOOPBACK = "loopback";
    private static final String PRIVATE = "private";

    private final Supplier<String> source;
    private volatile Rules rules = new Rules("", List.of());

    /** What a list says. */
    private record Rules(String list, List<AllowedHost> all) {
        boolean has(String word) {
            return all.stream().anyMatch(h -> h.isWord(word));
        }
    }

    private HostPolicy(Supplier<String> source) {
        this.source = source;
    }

    /** @param list words separated by commas, see {@link AllowedHost#of}; what is none is passed over */
    public static HostPolicy of(String list) {
        return new HostPolicy(() -> list);
    }

    /** The same for a list that may change: it is asked for each time. */
    public static HostPolicy following(Supplier<String> list) {
        return new HostPolicy(list);
    }

    private Rules rules() {
        String list = source.get();
        Rules known = rules;
        if (!known.list.equals(list)) {
            known = new Rules(
                    list,
                    Arrays.stream(list.split(","))
                            .map(AllowedHost::of)
                            .flatMap(Optional::stream)
                            .toList());
            rules = known;
        }
        return known;
    }

    /** The list as it is now. */
    public String list() {
        return rules().all.stream().map(AllowedHost::text).sorted().collect(Collectors.joining(","));
    }

    public boolean allows(String word) {
        return rules().has(word);
    }

    /** The entry that lets calls go to a host at one of its addresses; empty when none does. */
    private static Optional<AllowedHost> listed(Rules r, String host, int port, InetAddress a) {
        return r.all.stream().filter(h -> h.isFor(host, port, a)).findFirst();
    }

    /** @return why the host may not be called, or null when it may */
    public String refusal(String host, int port, InetAddress[] addresses) {
        Rules r = rules();
        for (InetAddress a : addresses) {
            Reach reach = reach(a.getAddress());
            boolean isListed = listed(r, host, port, a).isPresent();
            String refusal =
                    switch (reach) {
                        case MACHINE ->
                            isListed || r.has(LOOPBACK)
                                    ? null
                                    : "calls to this machine (" + a.getHostAddress()
                                            + ") are not allowed; an administrator can put loopback on the allow-list";
                        case PRIVATE ->
                            isListed || r.has(PRIVATE)
                                    ? null
                                    : "calls to private addresses (" + a.getHostAddress()
                                            + ") are not allowed; an administrator can put the host " + host
                                            + " on the allow-list";
                        case NOBODY ->
                            "the address " + a.getHostAddress() + " is no single machine's and cannot be called";
                        case PUBLIC ->
                            isListed || !r.has(LISTED_ONLY)
                                    ? null
                                    : "only hosts on the allow-list are called, and " + host
                                            + " is none; an administrator can put it there";
                    };
            if (refusal != null) {
                return refusal;
            }
        }
        return null;
    }

    /**
     * For a host that a proxy leads to, which looks its address up by itself. One that has no address here may be
     * called where it, or the proxy's host, is allowed by its name: whoever did that leaves it to the proxy.
     *
     * @return why the host may not be called, or null when it may
     */
    public String refusalBehind(HttpProxy proxy, String host, int port) {
        try {
            return refusal(host, port, InetAddress.getAllByName(host));
        } catch (UnknownHostException e) {
            boolean isLeft =
                    rules().all.stream().anyMatch(h -> h.isNamed(proxy.host(), proxy.port()) || h.isNamed(host, port));
            return isLeft
                    ? null
                    : "the host " + host
                            + " has no address here, so that it cannot be told whether calls may go there; an"
                            + " administrator can put it, or the proxy " + proxy.host()
                            + ", on the allow-list by its name";
        }
    }

    /** Why a host that may be called may be, in words. */
    public String allowance(String host, int port, InetAddress[] addresses) {
        Rules r = rules();
        boolean isPrivate = false;
        for (InetAddress a : addresses) {
            Optional<AllowedHost> by = listed(r, host, port, a);
            if (by.isPresent()) {
                return "the allow-list has " + by.get().text();
            }
            Reach reach = reach(a.getAddress());
            if (reach == Reach.MACHINE) {
                return "this machine, since loopback is on the allow-list";
            }
            isPrivate |= reach == Reach.PRIVATE;
        }
        return isPrivate ? "a private network, since private is on the allow-list" : "a public address";
    }

    private enum Reach {
        MACHINE,
        PRIVATE,
        NOBODY,
        PUBLIC
    }

    private static Reach reach(byte[] address) {
        return address.length == 4 ? reach4(address) : reach6(address);
    }

    /** By the registry of special-purpose addresses (RFC 6890). */
    private static Reach reach4(byte[] a) {
        int first = a[0] & 0xFF;
        int second = a[1] & 0xFF;
        if (first == 0 || first == 127) {
            return Reach.MACHINE;
        }
        if (first >= 224) {
            return Reach.NOBODY;
        }
        boolean isPrivate = first == 10
                || first == 172 && (second & 0xF0) == 16
                || first == 192 && second == 168
                || first == 169 && second == 254
                || first == 100 && (second & 0xC0) == 64
                || first == 198 && (second & 0xFE) == 18
                || first == 192 && second == 0 && (a[2] == 0 || a[2] == 2);
        return isPrivate ? Reach.PRIVATE : Reach.PUBLIC;
    }

    /**
     * An address that carries an IPv4 one leads where that leads: mapped, compatible, translated (RFC 6052), 6to4,
     * Teredo.
     */
    private static Reach reach6(byte[] a) {
        if ((a[0] & 0xFF) == 0xFF) {
            return Reach.NOBODY;
        }
        boolean tenZeros = zeros(a, 0, 10);
        if (tenZeros && zeros(a, 10, 15) && (a[15] == 0 || a[15] == 1)) {
            return Reach.MACHINE;
        }
        if (tenZeros && (zeros(a, 10, 12) || a[10] == -1 && a[11] == -1)
                || zeros(a, 0, 8) && a[8] == -1 && a[9] == -1 && zeros(a, 10, 12)
                || a[0] == 0 && a[1] == 0x64 && a[2] == -1 && a[3] == (byte) 0x9B) {
            return reach4(Arrays.copyOfRange(a, 12, 16));
        }
        if (a[0] == 0x20 && a[1] == 2) {
            return reach4(Arrays.copyOfRange(a, 2, 6));
        }
        if (a[0] == 0x20 && a[1] == 1 && a[2] == 0 && a[3] == 0) {
            return reach4(new byte[] {(byte) ~a[12], (byte) ~a[13], (byte) ~a[14], (byte) ~a[15]});
        }
        boolean isLocal = (a[0] & 0xFE) == 0xFC || (a[0] & 0xFF) == 0xFE && (a[1] & 0x80) != 0;
        return isLocal ? Reach.PRIVATE : Reach.PUBLIC;
    }

    private static boolean zeros(byte[] a, int from, int to) {
        for (int i = from; i < to; i++) {
            if (a[i] != 0) {
                return false;
            }
        }
        return true;
    }

    /** A host that the policy refuses; told apart from a name that does not exist by its class. */
    public static final class NotAllowed extends UnknownHostException {
        private static final long serialVersionUID = 1;

        public NotAllowed(String message) {
            super(message);
        }
    }
}
