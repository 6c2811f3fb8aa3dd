package org.wirekettle.call;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Which hosts may be called. Public addresses may; those of this machine and of private networks only when allowed, so
 * that nobody can reach the inside of a network through the product; those that are nobody's never. Immutable.
 */
public final class HostPolicy {
    private final Set<String> allowed;

    private HostPolicy(Set<String> allowed) {
        this.allowed = allowed;
    }

    /** @param list words separated by commas: {@code loopback}, {@code private}, {@code jdbc}, or host names */
    public static HostPolicy of(String list) {
        return new HostPolicy(Arrays.stream(list.split(","))
                .map(s -> s.strip().toLowerCase(Locale.ROOT))
                .filter(s -> !s.isEmpty())
                .collect(Collectors.toCollection(TreeSet::new)));
    }

    /** The list this policy was made of. */
    public String list() {
        return String.join(",", allowed);
    }

    public boolean allows(String word) {
        return allowed.contains(word);
    }

    /** @return why the host may not be called, or null when it may */
    public String refusal(String host, InetAddress[] addresses) {
        if (allowed.contains(host.toLowerCase(Locale.ROOT))) {
            return null;
        }
        for (InetAddress a : addresses) {
            String refusal =
                    switch (reach(a.getAddress())) {
                        case MACHINE ->
                            allowed.contains("loopback")
                                    ? null
                                    : "calls to this machine (" + a.getHostAddress()
                                            + ") are not allowed; an administrator can allow them with "
                                            + "wk.outbound.allow=loopback";
                        case PRIVATE ->
                            allowed.contains("private")
                                    ? null
                                    : "calls to private addresses (" + a.getHostAddress()
                                            + ") are not allowed; an administrator can allow the host " + host
                                            + " with wk.outbound.allow";
                        case NOBODY ->
                            "the address " + a.getHostAddress() + " is no single machine's and cannot be called";
                        case PUBLIC -> null;
                    };
            if (refusal != null) {
                return refusal;
            }
        }
        return null;
    }

    /**
     * For a host that a proxy leads to, which looks its address up by itself. One that has no address here may be
     * called where the proxy's host is allowed by its name: whoever did that leaves it to the proxy.
     *
     * @return why the host may not be called, or null when it may
     */
    public String refusalBehind(String proxyHost, String host) {
        try {
            return refusal(host, InetAddress.getAllByName(host));
        } catch (UnknownHostException e) {
            return allowed.contains(proxyHost.toLowerCase(Locale.ROOT))
                            || allowed.contains(host.toLowerCase(Locale.ROOT))
                    ? null
                    : "the host " + host
                            + " has no address here, so that it cannot be told whether calls may go there; an"
                            + " administrator can allow it, or the proxy " + proxyHost + ", by its name";
        }
    }

    /** Why a host that may be called may be, in words. */
    public String allowance(String host, InetAddress[] addresses) {
        if (allowed.contains(host.toLowerCase(Locale.ROOT))) {
            return "the host is on the allow-list";
        }
        boolean isPrivate = false;
        for (InetAddress a : addresses) {
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
