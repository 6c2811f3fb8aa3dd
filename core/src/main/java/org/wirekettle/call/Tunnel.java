package org.wirekettle.call;

import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Asks a proxy for a tunnel by hand, so that a probe can look at what is behind it (CONNECT, RFC 9110 §9.3.6). */
final class Tunnel {
    /** Instead of a status: it asks for a log-in that is not Basic, which only calls can do. */
    static final int OTHER_LOG_IN = -1;

    private static final int MAX_HEAD_BYTES = 16 * 1024;
    private static final Pattern STATUS = Pattern.compile("HTTP/1\\.[01] (\\d{3}).*", Pattern.DOTALL);

    private Tunnel() {}

    /**
     * Asks once.
     *
     * @param to host and port
     * @return the HTTP status, or {@link #OTHER_LOG_IN}
     * @throws IOException also when what answers does not speak HTTP
     */
    static int open(Socket proxy, HttpProxy settings, String to) throws IOException {
        StringBuilder ask = new StringBuilder("CONNECT " + to + " HTTP/1.1\r\nHost: " + to + "\r\n");
        if (settings.user() != null) {
            String password = settings.password() == null ? "" : settings.password();
            byte[] both = (settings.user() + ":" + password).getBytes(StandardCharsets.UTF_8);
            ask.append("Proxy-Authorization: Basic ")
                    .append(Base64.getEncoder().encodeToString(both))
                    .append("\r\n");
        }
        proxy.getOutputStream().write(ask.append("\r\n").toString().getBytes(StandardCharsets.US_ASCII));
        String head = head(proxy.getInputStream());
        Matcher m = STATUS.matcher(head);
        if (!m.matches()) {
            throw new IOException("what answers there is no HTTP proxy");
        }
        int status = Integer.parseInt(m.group(1));
        boolean isOther = status == 407
                && settings.user() != null
                && !head.toLowerCase(java.util.Locale.ROOT).contains("proxy-authenticate: basic");
        return isOther ? OTHER_LOG_IN : status;
    }

    private static String head(InputStream in) throws IOException {
        StringBuilder out = new StringBuilder();
        while (out.indexOf("\r\n\r\n") < 0) {
            int b = in.read();
            if (b < 0 || out.length() > MAX_HEAD_BYTES) {
                throw new IOException("what answers there is no HTTP proxy");
            }
            out.append((char) b);
        }
        return out.toString();
    }
}
