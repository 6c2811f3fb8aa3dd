package org.wirekettle.attachment;

import java.io.IOException;
import java.io.InputStream;
import java.net.URLDecoder;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.stream.XMLStreamException;
import org.apache.james.mime4j.MimeException;
import org.apache.james.mime4j.codec.DecodeMonitor;
import org.apache.james.mime4j.stream.EntityState;
import org.apache.james.mime4j.stream.Field;
import org.apache.james.mime4j.stream.MimeConfig;
import org.apache.james.mime4j.stream.MimeTokenStream;
import org.apache.james.mime4j.stream.RecursionMode;
import org.jspecify.annotations.Nullable;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlText;
import org.wirekettle.xml.XopInclude;

/**
 * Reads an answer of several parts (RFC 2387): its message, with what it names in other parts put where it belongs.
 * Parts that it does not name follow in its body as {@code attached}. Used once.
 */
public final class Incoming {
    /** An element that holds a part which nothing names, and that is none of the WSDL's. */
    private static final String ELEMENT = "attached";

    /** What can be the name of an element. */
    private static final Pattern NAME = Pattern.compile("[A-Za-z_][A-Za-z0-9_.-]*");

    private static final int MAX_PARTS = 1_000;
    private static final int MAX_HEADERS = 100;
    private static final int MAX_HEADER_CHARS = 20_000;
    private static final Pattern PARAMETER =
            Pattern.compile(";\\s*([A-Za-z-]+)\\s*=\\s*(?:\"([^\"\\\\]*+(?:\\\\.[^\"\\\\]*+)*+)\"|([^;\\s]+))");
    private static final Pattern DECLARATION = Pattern.compile("^\\s*<\\?xml[^>]*\\?>");

    /** Refuses what ends before its last boundary. */
    private static final DecodeMonitor WHOLE = new DecodeMonitor() {
        @Override
        public boolean warn(String error, String dropped) {
            return error.contains("ended prematurely");
        }

        @Override
        public boolean isListening() {
            return true;
        }
    };

    private final AttachmentSettings settings;
    private final int maxBytes;
    private final List<Part> parts = new ArrayList<>();
    /** Names of files that were written. */
    private final List<String> kept = new ArrayList<>();

    private byte @Nullable [] root;
    private @Nullable String rootCharset;
    private long inMemory;

    private Incoming(AttachmentSettings settings, int maxBytes) {
        this.settings = settings;
        this.maxBytes = maxBytes;
    }

    /** One beside the message. @param value what stands for it in the message: Base64, or an include of a file */
    private record Part(String id, String type, String name, String value) {}

    /** It is longer than may be, in words. */
    public static final class TooLong extends IOException {
        private static final long serialVersionUID = 1;

        TooLong(int maxBytes) {
            super("the answer is longer than " + maxBytes + " bytes, the connection's limit for what is not put into"
                    + " files");
        }
    }

    /** Whether an answer of that type has several parts. */
    public static boolean isOf(@Nullable String contentType) {
        return contentType != null
                && contentType.regionMatches(true, 0, "multipart/related", 0, "multipart/related".length());
    }

    /**
     * Reads one to its end.
     *
     * @param maxBytes of the message, with what is put into it
     * @param isFramed whether it is known otherwise that all of it is there
     * @return the message in UTF-8
     * @throws TooLong or {@link AttachedFiles.TooLarge} when it is too long
     */
    public static byte[] read(
            InputStream in, String contentType, AttachmentSettings settings, int maxBytes, boolean isFramed)
            throws IOException {
        Incoming one = new Incoming(settings, maxBytes);
        boolean isWhole = false;
        try {
            one.parts(in, contentType, isFramed);
            byte[] message = one.message().getBytes(StandardCharsets.UTF_8);
            isWhole = true;
            return message;
        } catch (XMLStreamException e) {
            // Whoever reads it says what it is instead.
            return one.text().getBytes(StandardCharsets.UTF_8);
        } catch (MimeException e) {
            throw new IOException("the parts of the answer cannot be read: " + e.getMessage(), e);
        } finally {
            if (!isWhole && settings.files() != null) {
                // Nobody would know of them.
                one.kept.forEach(settings.files()::forget);
            }
        }
    }

    private void parts(InputStream in, String contentType, boolean isFramed) throws IOException, MimeException {
        String start = bare(parameter(contentType, "start"));
        MimeTokenStream stream = new MimeTokenStream(
                MimeConfig.custom()
                        .setMaxHeaderCount(MAX_HEADERS)
                        .setMaxHeaderLen(MAX_HEADER_CHARS)
                        .setMaxLineLen(-1)
                        .build(),
                isFramed ? DecodeMonitor.SILENT : WHOLE,
                null);
        stream.setRecursionMode(RecursionMode.M_NO_RECURSE);
        stream.parseHeadless(in, contentType);
        String id = "";
        String type = "";
        String name = "";
        int count = 0;
        for (EntityState s = stream.getState(); s != EntityState.T_END_OF_STREAM; s = stream.next()) {
            switch (s) {
                case T_START_BODYPART -> {
                    id = "";
                    type = "text/plain";
                    name = "";
                    if (++count > MAX_PARTS) {
                        throw new MimeException("there are more than " + MAX_PARTS);
                    }
                }
                case T_FIELD -> {
                    Field f = stream.getField();
                    switch (f.getName().toLowerCase(Locale.ROOT)) {
                        case "content-id" -> id = bare(f.getBody().strip());
                        case "content-type" -> type = f.getBody().strip();
                        case "content-disposition" -> name = or(parameter(f.getBody(), "filename"), "");
                        default -> {}
                    }
                }
                case T_BODY -> {
                    boolean isRoot = root == null && (start == null ? parts.isEmpty() : id.equals(start));
                    if (isRoot) {
                        root = whole(stream.getDecodedInputStream());
                        rootCharset = parameter(type, "charset");
                    } else {
                        parts.add(part(stream.getDecodedInputStream(), id, type, name));
                    }
                }
                default -> {}
            }
        }
        if (root == null) {
            throw new MimeException(start == null ? "there are none" : "none of them is <" + start + ">, the first");
        }
    }

    private Part part(InputStream in, String id, String type, String name) throws IOException {
        String called = !name.isEmpty() ? name : or(parameter(type, "name"), id.isEmpty() ? "part" : id);
        if (settings.isToFiles() && settings.files() != null) {
            String file = settings.files().keep(in, called);
            kept.add(file);
            return new Part(id, type, name, XopInclude.of(XopInclude.FILE + file));
        }
        return new Part(id, type, name, Base64.getEncoder().encodeToString(whole(in)));
    }

    /** What is in memory counts together. */
    private byte[] whole(InputStream in) throws IOException {
        int left = (int) Math.max(0, maxBytes - inMemory);
        byte[] out = in.readNBytes(left);
        if (out.length == left && in.read() >= 0) {
            throw new TooLong(maxBytes);
        }
        inMemory += out.length;
        return out;
    }

    private String message() throws XMLStreamException, TooLong {
        String text = text();
        List<Part> open = new ArrayList<>(parts);
        StringBuilder out = new StringBuilder(text.length());
        int at = 0;
        List<XopInclude.Found> all = parts.isEmpty() ? List.of() : XopInclude.partsIn(text);
        for (XopInclude.Found f : all) {
            Part p = named(f.href());
            if (p != null) {
                open.remove(p);
                out.append(text, at, f.from())
                        .append(f.before())
                        .append(p.value)
                        .append(f.after());
                at = f.to();
                checkLength(out);
            }
        }
        out.append(text, at, text.length());
        return open.isEmpty() ? out.toString() : withUnnamed(out, open);
    }

    /** One part may be named a thousand times. */
    private void checkLength(StringBuilder out) throws TooLong {
        if (out.length() > 2L * maxBytes) {
            throw new TooLong(maxBytes);
        }
    }

    private String text() {
        byte[] bytes = java.util.Objects.requireNonNull(root);
        String text = null;
        boolean saysItself = bytes.length > 5 && new String(bytes, 0, 5, StandardCharsets.ISO_8859_1).equals("<?xml");
        if (!saysItself && rootCharset != null && Charset.isSupported(rootCharset)) {
            text = new String(bytes, Charset.forName(rootCharset));
        }
        // What comes out is in UTF-8, whatever was declared.
        return DECLARATION.matcher(text == null ? XmlText.decoded(bytes) : text).replaceFirst("");
    }

    /** The part that a reference means (RFC 2392 §2). */
    private @Nullable Part named(String href) {
        if (!href.startsWith(XopInclude.PART)) {
            return null;
        }
        String id = href.substring(XopInclude.PART.length());
        String decoded;
        try {
            decoded = URLDecoder.decode(id.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            decoded = id;
        }
        for (Part p : parts) {
            if (!p.id.isEmpty() && (p.id.equals(id) || p.id.equals(decoded))) {
                return p;
            }
        }
        return null;
    }

    /** They stand last in the body's first element, so that an answer's paths reach them. */
    private static String withUnnamed(StringBuilder text, List<Part> open) {
        Matcher body = Pattern.compile("</(?:[\\w.-]+:)?Body\\s*>").matcher(text);
        int at = -1;
        while (body.find()) {
            at = body.start();
        }
        if (at < 0) {
            return text.toString();
        }
        int end = text.lastIndexOf("</", at - 1);
        boolean isInside =
                end > 0 && text.substring(text.indexOf(">", end) + 1, at).isBlank();
        StringBuilder more = new StringBuilder();
        for (Part p : open) {
            String part = partName(p);
            String element = NAME.matcher(part).matches() ? part : ELEMENT;
            more.append("<" + element + " xmlns=\"" + XopInclude.ATTACHED + "\" name=\"")
                    .append(Escape.xml(part.isEmpty() ? p.name.isEmpty() ? p.id : p.name : part))
                    .append("\" type=\"")
                    .append(Escape.xml(p.type))
                    .append("\">")
                    .append(p.value)
                    .append("</" + element + ">");
        }
        return text.insert(isInside ? end : at, more).toString();
    }

    /** The part of the WSDL that it is, where its id says so (WS-I Attachments Profile 1.0 §3.8); otherwise empty. */
    private static String partName(Part p) {
        int sign = p.id.indexOf('=');
        return sign > 0 ? p.id.substring(0, sign) : "";
    }

    private static @Nullable String parameter(@Nullable String header, String name) {
        if (header == null) {
            return null;
        }
        Matcher m = PARAMETER.matcher(header);
        while (m.find()) {
            if (m.group(1).equalsIgnoreCase(name)) {
                return m.group(2) == null ? m.group(3) : m.group(2).replaceAll("\\\\(.)", "$1");
            }
        }
        return null;
    }

    private static @Nullable String bare(@Nullable String id) {
        return id == null ? null : id.strip().replaceFirst("^<", "").replaceFirst(">$", "");
    }

    private static String or(@Nullable String a, String b) {
        return a == null || a.isBlank() ? b : a;
    }
}
