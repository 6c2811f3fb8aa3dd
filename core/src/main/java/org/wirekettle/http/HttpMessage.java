package org.wirekettle.http;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;

/**
 * A request as it is shown, kept and typed by hand: its first line, the headers that are its own, an empty line, the
 * body (RFC 9112 §2.1). Where it goes, and what the connection adds, is not in it.
 *
 * @param target path and query, below the connection's address
 * @param headers names and values
 */
public record HttpMessage(String method, String target, List<String[]> headers, byte[] body) {
    private static final int MAX_HEADERS = 200;
    /** What the transport says by itself: whoever could say it otherwise could hide a second request in this one. */
    private static final Set<String> OF_TRANSPORT = Set.of(
            "host",
            "content-length",
            "transfer-encoding",
            "connection",
            "expect",
            "upgrade",
            "te",
            "trailer",
            "keep-alive",
            "content-encoding");

    public byte[] bytes() {
        StringBuilder head =
                new StringBuilder(128).append(method).append(' ').append(target).append('\n');
        headers.forEach(h -> head.append(h[0]).append(": ").append(h[1]).append('\n'));
        byte[] first = head.toString().getBytes(StandardCharsets.UTF_8);
        if (body.length == 0) {
            return first;
        }
        ByteArrayOutputStream out = new ByteArrayOutputStream(first.length + 1 + body.length);
        out.writeBytes(first);
        out.write('\n');
        out.writeBytes(body);
        return out.toByteArray();
    }

    /** @throws Refused with the line, when it is no request */
    public static HttpMessage read(byte[] bytes) {
        List<String> lines = new ArrayList<>();
        int at = 0;
        while (at < bytes.length) {
            int end = at;
            while (end < bytes.length && bytes[end] != '\n') {
                end++;
            }
            String line = new String(bytes, at, end - at, StandardCharsets.UTF_8).stripTrailing();
            at = end + 1;
            if (line.isEmpty() && !lines.isEmpty()) {
                break;
            }
            if (!line.isEmpty()) {
                lines.add(line);
            }
            if (lines.size() > MAX_HEADERS) {
                throw refused(lines.size(), "There are more than " + MAX_HEADERS + " headers.");
            }
        }
        String[] first = lines.isEmpty() ? new String[0] : lines.get(0).split(" +");
        if (first.length < 2 || first.length > 3 || !first[0].matches("[A-Za-z]{1,20}") || !isTarget(first[1])) {
            throw refused(1, "The first line has to be a method and a path, such as GET /crews/7.");
        }
        List<String[]> headers = new ArrayList<>();
        for (int i = 1; i < lines.size(); i++) {
            int colon = lines.get(i).indexOf(':');
            if (colon < 1) {
                throw refused(i + 1, "A header is a name, a colon and its value.");
            }
            String[] header = {
                lines.get(i).substring(0, colon).strip(),
                lines.get(i).substring(colon + 1).strip()
            };
            int line = i + 1;
            problem(header[0], header[1]).ifPresent(p -> {
                throw refused(line, "The header " + header[0] + " " + p + ".");
            });
            headers.add(header);
        }
        byte[] body = at >= bytes.length ? new byte[0] : java.util.Arrays.copyOfRange(bytes, at, bytes.length);
        return new HttpMessage(first[0].toUpperCase(Locale.ROOT), first[1], headers, body);
    }

    /** Path and query, with everything else percent-encoded (RFC 3986 §3.3, §3.4); never another host. */
    private static boolean isTarget(String target) {
        return target.matches("/(?!/)[!$-;=?-Z_a-z~\\[\\]|]*") || target.equals("/");
    }

    private static Refused refused(int line, String text) {
        return new Refused("http.message", new Place("request", line, 0), text);
    }

    /** What is wrong with a header, in words (RFC 9110 §5.5). */
    static Optional<String> problem(String name, String value) {
        if (!name.matches("[!#$%&'*+.^_`|~0-9A-Za-z-]{1,200}")) {
            return Optional.of("has no name that a header may have");
        }
        String known = name.toLowerCase(Locale.ROOT);
        if (OF_TRANSPORT.contains(known) || known.startsWith("proxy-")) {
            return Optional.of("is made by the transport, and cannot be set");
        }
        return value.chars().allMatch(c -> c >= ' ' && c < 0x7F || c == '\t')
                ? Optional.empty()
                : Optional.of("takes plain letters, digits and signs on one line; others have to be encoded");
    }
}
