package org.wirekettle.demo;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;

/**
 * A proxy on loopback: tunnels (CONNECT, RFC 9110 §9.3.6) and requests in absolute form, for those who log in. Tells
 * what it was asked, so that tests can compare.
 */
public final class Proxy implements AutoCloseable {
    private static final int MAX_HEAD_BYTES = 32 * 1024;

    private final ServerSocket listening;
    private final String wanted;
    private final List<String> asked = new CopyOnWriteArrayList<>();
    private final Set<Socket> open = ConcurrentHashMap.newKeySet();

    /** @param user null for everybody */
    public Proxy(int port, String user, String password) throws IOException {
        this.listening = new ServerSocket(port, 50, InetAddress.getLoopbackAddress());
        this.wanted = user == null
                ? null
                : "Basic "
                        + Base64.getEncoder().encodeToString((user + ":" + password).getBytes(StandardCharsets.UTF_8));
        start(this::accept, "proxy");
    }

    public int port() {
        return listening.getLocalPort();
    }

    /** First lines of what it was asked, those that were turned away included. */
    public List<String> asked() {
        return asked;
    }

    private static void start(Runnable work, String name) {
        Thread t = new Thread(work, name);
        t.setDaemon(true);
        t.start();
    }

    private void accept() {
        while (!listening.isClosed()) {
            try {
                Socket client = listening.accept();
                open.add(client);
                start(() -> serve(client), "proxied");
            } catch (IOException e) {
                return;
            }
        }
    }

    private void serve(Socket client) {
        try (client) {
            InputStream in = client.getInputStream();
            while (one(client, in)) {
                // the next request on the same connection
            }
        } catch (IOException | IllegalArgumentException e) {
            // One side has gone.
        } finally {
            open.remove(client);
        }
    }

    /** @return whether another request may come */
    private boolean one(Socket client, InputStream in) throws IOException {
        String head = head(in);
        if (head.isEmpty()) {
            return false;
        }
        String[] first = head.substring(0, head.indexOf("\r\n")).split(" ");
        asked.add(first[0] + " " + first[1]);
        byte[] body = in.readNBytes(Integer.parseInt(header(head, "Content-Length", "0")));
        OutputStream out = client.getOutputStream();
        if (wanted != null && !wanted.equals(header(head, "Proxy-Authorization", ""))) {
            out.write(("HTTP/1.1 407 Log in\r\nProxy-Authenticate: Basic realm=\"way out\"\r\n"
                            + "Content-Length: 0\r\n\r\n")
                    .getBytes(StandardCharsets.US_ASCII));
            return true;
        }
        if (first[0].equals("CONNECT")) {
            String[] to = first[1].split(":");
            try (Socket service = new Socket(to[0], Integer.parseInt(to[1]))) {
                open.add(service);
                out.write("HTTP/1.1 200 Go on\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
                start(() -> copy(service, client), "proxy back");
                in.transferTo(service.getOutputStream());
            }
            return false;
        }
        URI to = URI.create(first[1]);
        try (Socket service = new Socket(to.getHost(), to.getPort() < 0 ? 80 : to.getPort())) {
            open.add(service);
            String path = to.getRawPath() + (to.getRawQuery() == null ? "" : "?" + to.getRawQuery());
            String sent = first[0] + " " + path + " HTTP/1.1\r\n"
                    + head.substring(head.indexOf("\r\n") + 2)
                            .replaceAll("(?im)^(Proxy-[\\w-]+|Connection): .*\r\n", "")
                            .replaceFirst("\r\n\r\n$", "\r\nConnection: close\r\n\r\n");
            service.getOutputStream().write(sent.getBytes(StandardCharsets.ISO_8859_1));
            service.getOutputStream().write(body);
            service.getInputStream().transferTo(out);
        }
        return false;
    }

    private static void copy(Socket from, Socket to) {
        try {
            from.getInputStream().transferTo(to.getOutputStream());
            to.close();
        } catch (IOException e) {
            // The other side has gone.
        }
    }

    private static String head(InputStream in) throws IOException {
        StringBuilder out = new StringBuilder();
        while (out.indexOf("\r\n\r\n") < 0) {
            int b = in.read();
            if (b < 0 || out.length() > MAX_HEAD_BYTES) {
                return "";
            }
            out.append((char) b);
        }
        return out.toString();
    }

    private static String header(String head, String name, String otherwise) {
        for (String line : head.split("\r\n")) {
            if (line.regionMatches(true, 0, name + ":", 0, name.length() + 1)) {
                return line.substring(name.length() + 1).strip();
            }
        }
        return otherwise;
    }

    @Override
    public void close() throws IOException {
        listening.close();
        for (Socket s : open) {
            s.close();
        }
    }
}
