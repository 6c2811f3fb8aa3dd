package org.wirekettle.call;

import java.io.ByteArrayOutputStream;
import java.net.URLEncoder;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.xml.Escape;

/**
 * Hides a connection's secrets by their value in whatever is shown or kept, since a service may send back what it was
 * sent. The secret is found as it is, escaped for XML, JSON and addresses, in Base64, and in the encodings answers come
 * in. Immutable and shareable.
 */
public final class Mask {
    /** Hides nothing. */
    public static final Mask NONE = new Mask(List.of());

    /** Shorter secrets are hidden only where they stand alone: they would occur in ordinary words. */
    private static final int MIN_CHARS_ANYWHERE = 4;

    private static final int MAX_QUOTED = 3;

    private static final Form[] NO_FORMS = {};

    private final List<Form> forms;
    /** By their first byte, longer ones first: all bytes of all messages are looked at. */
    private final Form[][] byFirst = new Form[256][];

    /** One way a secret may be written. */
    private record Form(byte[] bytes, byte[] shown, boolean alone, boolean isWide) {}

    private Mask(List<Form> forms) {
        this.forms = forms;
        for (Form f : forms) {
            int first = f.bytes[0] & 0xFF;
            Form[] known = byFirst[first] == null ? NO_FORMS : byFirst[first];
            byFirst[first] = java.util.Arrays.copyOf(known, known.length + 1);
            byFirst[first][known.length] = f;
        }
    }

    /** @param user whose log-in it is; may be null. @param secret null or empty hides nothing */
    public static Mask of(String user, String secret) {
        if (secret == null || secret.isEmpty()) {
            return NONE;
        }
        Set<String> texts = new LinkedHashSet<>();
        if (user != null) {
            texts.add(base64(user + ":" + secret));
        }
        texts.add(secret);
        // A message that is quoted in another one is escaped once more each time, and not by the same hand.
        Set<String> quoted = Set.of(secret);
        for (int depth = 0; depth < MAX_QUOTED; depth++) {
            Set<String> once = new LinkedHashSet<>();
            for (String s : quoted) {
                String inText = s.replace("&", "&amp;").replace("<", "&lt;");
                String inAttribute = Escape.xml(s);
                once.add(inText);
                once.add(inText.replace(">", "&gt;"));
                once.add(inAttribute);
                once.add(inAttribute.replace("'", "&apos;"));
                once.add(inAttribute.replace("&quot;", "\""));
            }
            texts.addAll(once);
            quoted = once;
        }
        texts.add(secret.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&#34;")
                .replace("'", "&#39;"));
        texts.add(secret.replace("\\", "\\\\").replace("\"", "\\\"").replace("/", "\\/"));
        texts.add(secret.replace("\\", "\\\\").replace("\"", "\\\""));
        texts.add(URLEncoder.encode(secret, StandardCharsets.UTF_8));
        texts.add(URLEncoder.encode(secret, StandardCharsets.UTF_8).replace("+", "%20"));
        texts.add(base64(secret));
        List<Form> forms = new ArrayList<>();
        for (String text : texts) {
            for (Charset c : List.of(
                    StandardCharsets.UTF_8,
                    StandardCharsets.UTF_16LE,
                    StandardCharsets.UTF_16BE,
                    StandardCharsets.ISO_8859_1)) {
                byte[] bytes = text.getBytes(c);
                boolean isKnown = forms.stream().anyMatch(f -> java.util.Arrays.equals(f.bytes, bytes));
                if (!isKnown) {
                    String shown = c == StandardCharsets.ISO_8859_1 ? "***" : SecretValues.SHOWN_AS;
                    forms.add(new Form(
                            bytes,
                            shown.getBytes(c),
                            text.length() < MIN_CHARS_ANYWHERE,
                            c.name().startsWith("UTF-16")));
                }
            }
        }
        // A longer form hides what a shorter one would leave of it.
        forms.sort((a, b) -> b.bytes.length - a.bytes.length);
        return new Mask(forms);
    }

    /** One that hides what each of them hides. */
    static Mask all(List<Mask> masks) {
        List<Form> all = new ArrayList<>();
        masks.forEach(m -> all.addAll(m.forms));
        all.sort((a, b) -> b.bytes.length - a.bytes.length);
        return all.isEmpty() ? NONE : new Mask(all);
    }

    private static String base64(String s) {
        return Base64.getEncoder().encodeToString(s.getBytes(StandardCharsets.UTF_8));
    }

    /** @return the same array when there is nothing to hide */
    public byte[] hide(byte[] message) {
        if (forms.isEmpty()) {
            return message;
        }
        ByteArrayOutputStream out = null;
        int kept = 0;
        for (int i = 0; i < message.length; i++) {
            Form[] candidates = byFirst[message[i] & 0xFF];
            if (candidates != null) {
                Form found = at(message, i, candidates);
                if (found != null) {
                    out = out == null ? new ByteArrayOutputStream(message.length) : out;
                    out.write(message, kept, i - kept);
                    out.writeBytes(found.shown);
                    i += found.bytes.length - 1;
                    kept = i + 1;
                }
            }
        }
        if (out == null) {
            return message;
        }
        out.write(message, kept, message.length - kept);
        return out.toByteArray();
    }

    /** @param text may be null */
    public String hide(String text) {
        if (text == null || forms.isEmpty()) {
            return text;
        }
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        byte[] hidden = hide(bytes);
        return hidden == bytes ? text : new String(hidden, StandardCharsets.UTF_8);
    }

    /** @return the same list when there is nothing to hide */
    List<String[]> hide(List<String[]> headers) {
        if (forms.isEmpty()) {
            return headers;
        }
        List<String[]> out = null;
        for (int i = 0; i < headers.size(); i++) {
            String value = headers.get(i)[1];
            String hidden = hide(value);
            if (hidden != value) {
                out = out == null ? new ArrayList<>(headers) : out;
                out.set(i, new String[] {headers.get(i)[0], hidden});
            }
        }
        return out == null ? headers : out;
    }

    private static Form at(byte[] message, int from, Form[] candidates) {
        for (Form f : candidates) {
            int to = from + f.bytes.length;
            if (f.isWide && from % 2 != 0) {
                continue;
            }
            if (to <= message.length
                    && message[to - 1] == f.bytes[f.bytes.length - 1]
                    && java.util.Arrays.equals(message, from, to, f.bytes, 0, f.bytes.length)
                    && !(f.alone && (isWord(message, from - 1) || isWord(message, to)))
                    && !isMarkup(message, from, to)) {
                return f;
            }
        }
        return null;
    }

    private static boolean isWord(byte[] message, int at) {
        return at >= 0
                && at < message.length
                && (Character.isLetterOrDigit((char) message[at]) || message[at] < 0 || message[at] == 0);
    }

    /** Whether it is the name of an element or attribute: without that the message could not be read any more. */
    private static boolean isMarkup(byte[] message, int from, int to) {
        if (to + 1 < message.length && message[to] == '=' && (message[to + 1] == '"' || message[to + 1] == '\'')) {
            return true;
        }
        int before = from - 1;
        while (before >= 0 && isNameByte(message[before])) {
            before--;
        }
        boolean opens = before >= 0
                && (message[before] == '<' || message[before] == '/' && before > 0 && message[before - 1] == '<');
        return opens
                && to < message.length
                && (isNameByte(message[to]) || message[to] == '>' || message[to] == ' ' || message[to] == '/');
    }

    private static boolean isNameByte(byte b) {
        return b >= 'a' && b <= 'z'
                || b >= 'A' && b <= 'Z'
                || b >= '0' && b <= '9'
                || b == '_'
                || b == '-'
                || b == '.'
                || b == ':'
                || b < 0;
    }
}
