package org.wirekettle.call;

import java.net.InetAddress;
import java.util.Arrays;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Which hosts may be called. Public addresses may; loopback, private and link-local ones only when allowed, so that nobody can
 * reach the inside of a network through the product.
 */
public final class HostPolicy {
    private final Set<String> allowed;

    private HostPolicy(Set<String> allowed) {
        this.allowed = allowed;
    }

    /** @param list words separated by commas: {@code loopback}, {@code private}, or host names */
    public static HostPolicy of(String list) {
        return new HostPolicy(Arrays.stream(list.split(",")).map(s -> s.strip().toLowerCase(java.util.Locale.ROOT)).filter(s -> !s.isEmpty()).collect(Collectors.toSet()));
    }

    /** @return why the host may not be called, or null when it may */
    public String refusal(String host, InetAddress[] addresses) {
        if (allowed.contains(host.toLowerCase(java.util.Locale.ROOT))) {
            return null;
        }
        for (InetAddress a : addresses) {
            if (a.isLoopbackAddress() || a.isAnyLocalAddress()) {
                if (!allowed.contains("loopback")) {
                    return "calls to this machine (" + a.getHostAddress() + ") are not allowed; an administrator can allow them with wk.outbound.allow=loopback";
                }
            } else if ((a.isSiteLocalAddress() || a.isLinkLocalAddress() || isUniqueLocal(a)) && !allowed.contains("private")) {
                return "calls to private addresses (" + a.getHostAddress() + ") are not allowed; an administrator can allow the host " + host + " with wk.outbound.allow";
            }
        }
        return null;
    }

    /** IPv6 fc00::/7. */
    private static boolean isUniqueLocal(InetAddress a) {
        return a.getAddress().length == 16 && (a.getAddress()[0] & 0xFE) == 0xFC;
    }
}
