package org.wirekettle.demo.papers;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.BufferedInputStream;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.HexFormat;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.demo.SoapText;

/**
 * The stand-in for the desk that takes ships' papers: as MTOM, in Base64, or beside the message. It keeps none of them,
 * however large, in memory: what it hands out is made while it is sent.
 */
public final class PaperDesk implements AutoCloseable {
    private static final String NS = "urn:tallow-reach:papers";
    private static final Pattern BOUNDARY = Pattern.compile("boundary=\"?([^\";]+)");
    private static final int SMALL = 64 * 1024;
    private static final int CHUNK = 8192;

    private final HttpServer server;
    private final ExecutorService threads = Executors.newCachedThreadPool();
    /** Content-Type of the last request. */
    private volatile String lastType = "";

    public PaperDesk() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.setExecutor(threads);
        server.createContext("/papers", this::serve);
        server.start();
    }

    public String url() {
        return "http://127.0.0.1:" + server.getAddress().getPort();
    }

    public String lastType() {
        return lastType;
    }

    private void serve(HttpExchange x) throws IOException {
        try (x) {
            if (x.getRequestMethod().equals("GET")) {
                byte[] wsdl = SoapText.resource("/papers/papers.wsdl", url()).getBytes(StandardCharsets.UTF_8);
                x.getResponseHeaders().set("Content-Type", "text/xml; charset=utf-8");
                x.sendResponseHeaders(200, wsdl.length);
                x.getResponseBody().write(wsdl);
                return;
            }
            lastType = String.valueOf(x.getRequestHeaders().getFirst("Content-Type"));
            Seen seen = read(new BufferedInputStream(x.getRequestBody(), SMALL), lastType);
            if (seen.message.contains("FetchPaper")) {
                fetch(x, seen.message);
            } else {
                filed(x, seen);
            }
        }
    }

    /** What came: the message, and how much content with which digest. */
    private record Seen(String message, long bytes, String sha256) {}

    private static Seen read(InputStream in, String type) throws IOException {
        MessageDigest sha = sha256();
        Matcher m = BOUNDARY.matcher(type);
        if (!type.startsWith("multipart/") || !m.find()) {
            return inside(in, sha);
        }
        byte[] mark = ("\r\n--" + m.group(1)).getBytes(StandardCharsets.US_ASCII);
        until(in, ("--" + m.group(1)).getBytes(StandardCharsets.US_ASCII), OutputStream.nullOutputStream());
        until(in, "\r\n\r\n".getBytes(StandardCharsets.US_ASCII), OutputStream.nullOutputStream());
        ByteArrayOutputStream root = new ByteArrayOutputStream();
        until(in, mark, root);
        until(in, "\r\n\r\n".getBytes(StandardCharsets.US_ASCII), OutputStream.nullOutputStream());
        Counting content = new Counting(sha);
        until(in, mark, content);
        return new Seen(
                root.toString(StandardCharsets.UTF_8),
                content.count,
                HexFormat.of().formatHex(sha.digest()));
    }

    /** A message with Base64 in it: that may be long, so it is decoded while it comes. */
    private static Seen inside(InputStream in, MessageDigest sha) throws IOException {
        ByteArrayOutputStream head = new ByteArrayOutputStream();
        boolean found = until(in, "content>".getBytes(StandardCharsets.US_ASCII), head);
        Counting content = new Counting(sha);
        if (found) {
            ByteArrayOutputStream four = new ByteArrayOutputStream();
            for (int b; (b = in.read()) >= 0 && b != '<'; ) {
                four.write(b);
                if (four.size() == CHUNK) {
                    content.write(Base64.getDecoder().decode(four.toByteArray()));
                    four.reset();
                }
            }
            content.write(Base64.getDecoder().decode(four.toByteArray()));
            in.transferTo(head);
        }
        return new Seen(
                head.toString(StandardCharsets.UTF_8),
                content.count,
                HexFormat.of().formatHex(sha.digest()));
    }

    /** Copies up to a mark, which is skipped. @return whether it came */
    private static boolean until(InputStream in, byte[] mark, OutputStream to) throws IOException {
        byte[] held = new byte[mark.length];
        int size = 0;
        for (int b; (b = in.read()) >= 0; ) {
            held[size++] = (byte) b;
            while (size > 0 && !java.util.Arrays.equals(held, 0, size, mark, 0, size)) {
                to.write(held[0]);
                System.arraycopy(held, 1, held, 0, --size);
            }
            if (size == mark.length) {
                return true;
            }
        }
        to.write(held, 0, size);
        return false;
    }

    private static final class Counting extends OutputStream {
        private final MessageDigest sha;
        private long count;

        Counting(MessageDigest sha) {
            this.sha = sha;
        }

        @Override
        public void write(int b) {
            sha.update((byte) b);
            count++;
        }

        @Override
        public void write(byte[] b, int from, int length) {
            sha.update(b, from, length);
            count += length;
        }
    }

    private static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        }
    }

    private static void filed(HttpExchange x, Seen seen) throws IOException {
        byte[] answer = SoapText.ok(
                        "<p:FilePaperResponse xmlns:p=\"" + NS + "\"><p:number>P-" + seen.sha256.substring(0, 6)
                                + "</p:number><p:bytes>" + seen.bytes + "</p:bytes><p:sha256>" + seen.sha256
                                + "</p:sha256></p:FilePaperResponse>")
                .body()
                .getBytes();
        x.getResponseHeaders().set("Content-Type", "text/xml; charset=utf-8");
        x.sendResponseHeaders(200, answer.length);
        x.getResponseBody().write(answer);
    }

    private static void fetch(HttpExchange x, String message) throws IOException {
        String vessel = value(message, "vessel");
        String wanted = value(message, "bytes");
        long bytes = wanted.isEmpty() ? 1_000 : Long.parseLong(wanted);
        String xml = "<s:Envelope xmlns:s=\"" + SoapText.SOAP11 + "\"><s:Body><p:FetchPaperResponse xmlns:p=\"" + NS
                + "\"><p:vessel>" + vessel + "</p:vessel><p:content><i:Include"
                + " xmlns:i=\"http://www.w3.org/2004/08/xop/include\" href=\"cid:paper@tallow-reach\"/></p:content>"
                + "</p:FetchPaperResponse></s:Body></s:Envelope>";
        x.getResponseHeaders()
                .set(
                        "Content-Type",
                        "multipart/related; boundary=desk; type=\"application/xop+xml\"; start=\"<answer@tallow-reach>\";"
                                + " start-info=\"text/xml\"");
        x.sendResponseHeaders(200, 0);
        OutputStream out = x.getResponseBody();
        out.write(("--desk\r\nContent-Type: application/xop+xml; charset=UTF-8; type=\"text/xml\"\r\nContent-ID:"
                        + " <answer@tallow-reach>\r\n\r\n" + xml
                        + "\r\n--desk\r\nContent-Type: application/pdf\r\nContent-Transfer-Encoding: binary\r\n"
                        + "Content-Disposition: attachment; filename=\"" + vessel
                        + ".pdf\"\r\nContent-ID: <paper@tallow-reach>\r\n\r\n")
                .getBytes(StandardCharsets.UTF_8));
        copy(paper(bytes), out);
        out.write("\r\n--desk--\r\n".getBytes(StandardCharsets.US_ASCII));
        out.close();
    }

    private static void copy(InputStream from, OutputStream to) throws IOException {
        byte[] buffer = new byte[SMALL];
        for (int n; (n = from.read(buffer)) >= 0; ) {
            to.write(buffer, 0, n);
        }
    }

    /** So many bytes that look like a paper; the same each time. */
    public static InputStream paper(long bytes) {
        byte[] line = "ship's paper of Tallow Reach, page after page \u00b7\n".getBytes(StandardCharsets.UTF_8);
        return new InputStream() {
            private long at;

            @Override
            public int read() {
                return at >= bytes ? -1 : line[(int) (at++ % line.length)] & 0xFF;
            }

            @Override
            public int read(byte[] b, int from, int length) {
                if (at >= bytes) {
                    return -1;
                }
                int n = (int) Math.min(length, bytes - at);
                for (int i = 0; i < n; i++) {
                    b[from + i] = line[(int) (at++ % line.length)];
                }
                return n;
            }
        };
    }

    private static String value(String xml, String name) {
        Matcher m = Pattern.compile("[:<]" + name + ">([^<]*)<").matcher(xml);
        return m.find() ? m.group(1).strip() : "";
    }

    /** What the digest of such a paper is. */
    public static String digest(long bytes) throws IOException {
        Counting counting = new Counting(sha256());
        copy(paper(bytes), counting);
        return HexFormat.of().formatHex(counting.sha.digest());
    }

    /** What the digest of some bytes is. */
    public static String digest(byte[] bytes) throws IOException {
        Counting counting = new Counting(sha256());
        copy(new ByteArrayInputStream(bytes), counting);
        return HexFormat.of().formatHex(counting.sha.digest());
    }

    @Override
    public void close() {
        server.stop(0);
        threads.shutdownNow();
    }
}
