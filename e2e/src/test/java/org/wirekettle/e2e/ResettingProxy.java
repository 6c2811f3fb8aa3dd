package org.wirekettle.e2e;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * A flaky network in front of a service on loopback: now and then it resets a connection (RST), before anything of a
 * message has passed, in its middle, or while the answer comes back.
 */
final class ResettingProxy implements AutoCloseable {
    private static final int BYTES = 2_048;

    private final ServerSocket server = new ServerSocket(0, 200, InetAddress.getLoopbackAddress());
    private final ExecutorService threads = Executors.newCachedThreadPool();
    private final int port;
    private final double share;
    private final Random random;
    private final AtomicInteger resets = new AtomicInteger();

    /** @param share of the pieces passed on at which a connection is reset */
    ResettingProxy(int port, double share, long seed) throws IOException {
        this.port = port;
        this.share = share;
        this.random = new Random(seed);
        threads.execute(this::accept);
    }

    int port() {
        return server.getLocalPort();
    }

    int resets() {
        return resets.get();
    }

    private void accept() {
        try {
            while (!server.isClosed()) {
                Socket client = server.accept();
                threads.execute(() -> pass(client));
            }
        } catch (IOException e) {
            // closed: the end
        }
    }

    private void pass(Socket client) {
        try {
            Socket service = new Socket(InetAddress.getLoopbackAddress(), port);
            client.setTcpNoDelay(true);
            service.setTcpNoDelay(true);
            threads.execute(() -> copy(client, service, client));
            copy(service, client, client);
        } catch (IOException e) {
            reset(client);
        }
    }

    private void copy(Socket from, Socket to, Socket client) {
        byte[] piece = new byte[BYTES];
        try {
            InputStream in = from.getInputStream();
            OutputStream out = to.getOutputStream();
            for (int n = in.read(piece); n >= 0; n = in.read(piece)) {
                if (isUnlucky()) {
                    // Half of it may have got through.
                    out.write(piece, 0, draw(n));
                    out.flush();
                    resets.incrementAndGet();
                    reset(client);
                    return;
                }
                out.write(piece, 0, n);
                out.flush();
            }
            to.shutdownOutput();
        } catch (IOException e) {
            reset(client);
            reset(to);
        }
    }

    private synchronized boolean isUnlucky() {
        return random.nextDouble() < share;
    }

    private synchronized int draw(int n) {
        return random.nextInt(n + 1);
    }

    private static void reset(Socket s) {
        try {
            s.setSoLinger(true, 0);
            s.close();
        } catch (IOException e) {
            // it is gone already
        }
    }

    @Override
    public void close() throws IOException {
        server.close();
        threads.shutdownNow();
    }
}
