package org.wirekettle.server.connections;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketAddress;
import javax.net.SocketFactory;
import org.wirekettle.call.HostPolicy;

/**
 * Sockets that only go where the outbound policy lets them; the PostgreSQL driver makes one of these by its name
 * ({@code socketFactory}). The check is on the very address that is connected to, so a name cannot lead elsewhere a
 * moment later.
 */
public final class GuardedSockets extends SocketFactory {
    private final HostPolicy policy;

    /** @param allowed as {@link HostPolicy#list} has it */
    public GuardedSockets(String allowed) {
        this.policy = HostPolicy.of(allowed);
    }

    @Override
    public Socket createSocket() {
        return new Socket() {
            @Override
            public void connect(SocketAddress to, int timeoutMillis) throws IOException {
                super.connect(checked((InetSocketAddress) to), timeoutMillis);
            }
        };
    }

    private InetSocketAddress checked(InetSocketAddress to) throws IOException {
        InetAddress address = to.isUnresolved() ? InetAddress.getByName(to.getHostString()) : to.getAddress();
        String refusal = policy.refusal(to.getHostString(), to.getPort(), new InetAddress[] {address});
        if (refusal != null) {
            throw new HostPolicy.NotAllowed(refusal);
        }
        return new InetSocketAddress(address, to.getPort());
    }

    @Override
    public Socket createSocket(String host, int port) throws IOException {
        return connected(new InetSocketAddress(host, port));
    }

    @Override
    public Socket createSocket(InetAddress host, int port) throws IOException {
        return connected(new InetSocketAddress(host, port));
    }

    @Override
    public Socket createSocket(String host, int port, InetAddress localHost, int localPort) throws IOException {
        return connected(new InetSocketAddress(host, port));
    }

    @Override
    public Socket createSocket(InetAddress address, int port, InetAddress localAddress, int localPort)
            throws IOException {
        return connected(new InetSocketAddress(address, port));
    }

    private Socket connected(InetSocketAddress to) throws IOException {
        Socket s = createSocket();
        s.connect(to, 0);
        return s;
    }
}
