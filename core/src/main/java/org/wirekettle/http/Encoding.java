package org.wirekettle.http;

import java.nio.charset.StandardCharsets;

/** Writes values into addresses and forms: everything but unreserved characters percent-encoded (RFC 3986 §2.3). */
public final class Encoding {
    private static final String UNRESERVED = "-._~";

    private Encoding() {}

    public static String percent(String value) {
        StringBuilder out = new StringBuilder(value.length() + 16);
        for (byte b : value.getBytes(StandardCharsets.UTF_8)) {
            char c = (char) (b & 0xFF);
            boolean isPlain = c < 0x80 && (Character.isLetterOrDigit(c) || UNRESERVED.indexOf(c) >= 0);
            if (isPlain) {
                out.append(c);
            } else {
                out.append('%').append(String.format("%02X", (int) c));
            }
        }
        return out.toString();
    }

    /** A part of an address as somebody wrote it: what may stand there stays, all else is encoded (RFC 3986 §3.3). */
    static String literal(String written) {
        StringBuilder out = new StringBuilder(written.length());
        written.codePoints().forEach(c -> {
            boolean isFine = c < 0x80 && (Character.isLetterOrDigit(c) || "-._~!$&'()*+,;=:@/%?".indexOf(c) >= 0);
            out.append(isFine ? Character.toString(c) : percent(Character.toString(c)));
        });
        return out.toString();
    }

    /** @throws IllegalArgumentException when a percent sign is not followed by two digits */
    public static String plain(String encoded, boolean isForm) {
        String e = isForm ? encoded : encoded.replace("+", "%2B");
        return java.net.URLDecoder.decode(e, StandardCharsets.UTF_8);
    }
}
