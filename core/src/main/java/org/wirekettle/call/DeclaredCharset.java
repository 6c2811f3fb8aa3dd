package org.wirekettle.call;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CharsetEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.attachment.Incoming;

/**
 * The encoding an answer's Content-Type declares (RFC 7303 §3.2). XML that says its own encoding, or has a byte-order
 * mark, is left as it is; other answers are turned into UTF-8 once, so that all who read them later, without the
 * header, read the same.
 */
public final class DeclaredCharset {
    private static final Pattern PARAMETER = Pattern.compile("(?i);\\s*charset\\s*=\\s*\"?([A-Za-z0-9._:-]+)");
    private static final Pattern DECLARATION = Pattern.compile("^<\\?xml[^>]*\\?>");
    private static final int HEAD_BYTES = 200;

    private DeclaredCharset() {}

    /** How most services say what needs no change. */
    private static final Set<String> USUAL = Set.of(
            "text/xml; charset=utf-8",
            "text/xml;charset=utf-8",
            "application/soap+xml; charset=utf-8",
            "application/soap+xml;charset=utf-8");

    /** Bytes in what a Content-Type says, in UTF-8. @param contentType null for none */
    public static byte[] utf8(byte[] answer, String contentType) {
        if (contentType != null && USUAL.contains(contentType.toLowerCase(Locale.ROOT))) {
            return answer;
        }
        if (Incoming.isOf(contentType)) {
            // What its parts make together is in UTF-8.
            return answer;
        }
        Matcher m = contentType == null || answer.length == 0 ? null : PARAMETER.matcher(contentType);
        if (m == null
                || !m.find()
                || m.group(1).equalsIgnoreCase("utf-8")
                || m.group(1).equalsIgnoreCase("us-ascii")
                || answer[0] < 0
                || answer[0] == 0) {
            return answer;
        }
        String head = new String(answer, 0, Math.min(HEAD_BYTES, answer.length), StandardCharsets.ISO_8859_1);
        if (head.startsWith("<?xml")
                && head.substring(0, Math.max(5, head.indexOf("?>"))).contains("encoding")) {
            return answer;
        }
        try {
            return Charset.forName(m.group(1))
                    .newDecoder()
                    .decode(ByteBuffer.wrap(answer))
                    .toString()
                    .getBytes(StandardCharsets.UTF_8);
        } catch (CharacterCodingException | IllegalArgumentException e) {
            // The header is wrong; the bytes are taken for what XML says they are.
            return answer;
        }
    }

    /**
     * XML that is in UTF-8, in another encoding and saying so. A character that it has not is written as a reference
     * (XML 1.0 §4.1).
     *
     * @return the same array for UTF-8
     */
    static byte[] encoded(byte[] utf8, Charset charset) {
        if (charset.equals(StandardCharsets.UTF_8)) {
            return utf8;
        }
        String text =
                DECLARATION.matcher(new String(utf8, StandardCharsets.UTF_8)).replaceFirst("");
        CharsetEncoder encoder = charset.newEncoder();
        StringBuilder out = new StringBuilder(text.length() + 64)
                .append("<?xml version=\"1.0\" encoding=\"")
                .append(charset.name())
                .append("\"?>");
        text.codePoints().forEach(c -> {
            String one = Character.toString(c);
            if (encoder.canEncode(one)) {
                out.append(one);
            } else {
                out.append("&#x").append(Integer.toHexString(c)).append(';');
            }
        });
        return out.toString().getBytes(charset);
    }
}
