package org.wirekettle.attachment;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.UUID;
import java.util.regex.Pattern;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.attachment.AttachmentSettings.Format;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XopInclude;

/**
 * A message on its way with the files that it names.
 *
 * @param contentType of all of it
 */
public record Outgoing(String contentType, Content content) {
    /** Files of one message. */
    public static final int MAX_FILES = 1_000;

    private static final String CRLF = "\r\n";
    private static final String OCTETS = "application/octet-stream";
    /** A type, and nothing that would end its line (RFC 2045 §5.1). */
    private static final Pattern MIME_TYPE = Pattern.compile("[\\w!#$&^.+-]+/[\\w!#$&^.+-]+(; ?[\\w.+-]+=[\\w.+-]+)*");

    /**
     * Puts a message and its files together.
     *
     * @param message a whole envelope, in the encoding it is sent in
     * @param contentType of the envelope alone
     * @return null when it has no file, and goes as it is
     * @throws IOException in words, when a file is not there or cannot go so
     */
    public static @org.jspecify.annotations.Nullable Outgoing of(
            byte[] message, Charset charset, String contentType, AttachmentSettings settings) throws IOException {
        String all = new String(message, charset);
        List<XopInclude.Attached> attached = attached(all);
        String text = withoutThem(all, attached);
        List<XopInclude.Found> named = named(text);
        if (named.isEmpty() && attached.isEmpty() && settings.format() != Format.MTOM) {
            return null;
        }
        if (!named.isEmpty() && charset.name().startsWith("UTF-16")) {
            throw new IOException("files go with messages in UTF-8, not in " + charset.name());
        }
        List<AttachedFiles.Found> files = new ArrayList<>();
        for (XopInclude.Found f : named) {
            if (settings.files() == null) {
                throw new IOException("there is no folder that files are taken from");
            }
            files.add(settings.files().find(f.href()));
        }
        if (attached.isEmpty() && settings.format() == Format.INSIDE) {
            return new Outgoing(contentType, inside(new Content(), text, charset, named, files));
        }
        Package p = new Package(charset, contentType, settings.format());
        p.root(text, named, files);
        for (XopInclude.Attached a : attached) {
            List<XopInclude.Found> file = named(a.inside());
            if (file.isEmpty()) {
                p.part(a, bytes(a));
            } else if (settings.files() == null) {
                throw new IOException("there is no folder that files are taken from");
            } else {
                p.part(a, settings.files().find(file.get(0).href()));
            }
        }
        return p.ended();
    }

    /** What an element has that is a part: a text as it is, anything else in Base64. */
    private static byte[] bytes(XopInclude.Attached a) throws IOException {
        String value = XmlElement.parse("part", "<a>" + a.inside() + "</a>").ownText();
        if (a.type() != null && a.type().startsWith("text/")) {
            return value.getBytes(StandardCharsets.UTF_8);
        }
        try {
            return Base64.getMimeDecoder().decode(value.strip());
        } catch (IllegalArgumentException e) {
            throw new IOException("the part " + a.name() + " is not Base64: " + e.getMessage());
        }
    }

    private static List<XopInclude.Attached> attached(String text) {
        try {
            return XopInclude.attachedIn(text);
        } catch (XMLStreamException e) {
            // Somebody wrote it so: it goes as it is.
            return List.of();
        }
    }

    private static String withoutThem(String text, List<XopInclude.Attached> attached) {
        StringBuilder out = new StringBuilder(text);
        for (int i = attached.size() - 1; i >= 0; i--) {
            out.delete(attached.get(i).from(), attached.get(i).to());
        }
        return out.toString();
    }

    /** What a signature is made over has to have all in it. @throws IOException in words */
    public static byte[] whole(byte[] message, int maxBytes, AttachmentSettings settings) throws IOException {
        Outgoing inside =
                of(message, StandardCharsets.UTF_8, "", new AttachmentSettings(Format.INSIDE, false, settings.files()));
        if (inside == null) {
            return message;
        }
        if (inside.content.length() > maxBytes) {
            throw new IOException(
                    "a signed message has its files in Base64 inside, and at most " + maxBytes + " bytes");
        }
        return inside.content.whole();
    }

    private static List<XopInclude.Found> named(String text) throws IOException {
        if (!XopInclude.mayBeIn(text)) {
            return List.of();
        }
        try {
            List<XopInclude.Found> out = XopInclude.in(text).stream()
                    .filter(f -> f.href().startsWith(XopInclude.FILE))
                    .toList();
            if (out.size() > MAX_FILES) {
                throw new IOException("the message names more than " + MAX_FILES + " files");
            }
            return out;
        } catch (XMLStreamException e) {
            // Somebody wrote it so: it goes as it is.
            return List.of();
        }
    }

    private static Content inside(
            Content out, String text, Charset charset, List<XopInclude.Found> named, List<AttachedFiles.Found> files) {
        int at = 0;
        for (int i = 0; i < named.size(); i++) {
            out.bytes(text.substring(at, named.get(i).from()).getBytes(charset)).base64(files.get(i));
            at = named.get(i).to();
        }
        return out.bytes(text.substring(at).getBytes(charset));
    }

    /** A message and its parts being put together (RFC 2387). Used once. */
    private static final class Package {
        private final String id = UUID.randomUUID().toString();
        private final String boundary = "wk-" + id;
        private final String main = "message." + id + "@wire-kettle";
        private final Charset charset;
        private final String contentType;
        private final Format format;
        private final Content out = new Content();

        Package(Charset charset, String contentType, Format format) {
            this.charset = charset;
            this.contentType = contentType;
            this.format = format;
        }

        private boolean isXop() {
            return format == Format.MTOM;
        }

        /** The message, and the files that it names, each where it belongs. */
        void root(String text, List<XopInclude.Found> named, List<AttachedFiles.Found> files) {
            String rootType = isXop()
                    ? "application/xop+xml; charset=" + charset.name().toLowerCase(Locale.ROOT) + "; type=" + quoted()
                    : contentType;
            out.bytes(head(true, rootType, main));
            if (format == Format.INSIDE) {
                inside(out, text, charset, named, files);
                return;
            }
            StringBuilder root = new StringBuilder(text.length());
            int at = 0;
            for (int i = 0; i < named.size(); i++) {
                String reference = XopInclude.PART + name(i);
                root.append(text, at, named.get(i).from()).append(isXop() ? XopInclude.of(reference) : reference);
                at = named.get(i).to();
            }
            out.bytes(root.append(text, at, text.length()).toString().getBytes(charset));
            for (int i = 0; i < files.size(); i++) {
                out.bytes(head(false, OCTETS, name(i))).file(files.get(i));
            }
        }

        /** A part of the WSDL's (WS-I Attachments Profile 1.0 §3.8). */
        void part(XopInclude.Attached a, AttachedFiles.Found file) {
            out.bytes(head(false, type(a), a.name() + "=" + id + "@wire-kettle"))
                    .file(file);
        }

        void part(XopInclude.Attached a, byte[] bytes) {
            out.bytes(head(false, type(a), a.name() + "=" + id + "@wire-kettle"))
                    .bytes(bytes);
        }

        private static String type(XopInclude.Attached a) {
            return a.type() == null || !MIME_TYPE.matcher(a.type()).matches() ? OCTETS : a.type();
        }

        Outgoing ended() {
            out.bytes((CRLF + "--" + boundary + "--" + CRLF).getBytes(StandardCharsets.US_ASCII));
            String type = "multipart/related; boundary=\"" + boundary + "\"; type=\""
                    + (isXop() ? "application/xop+xml" : contentType.split(";", 2)[0].strip())
                    + "\"; start=\"<" + main + ">\"" + (isXop() ? "; start-info=" + quoted() : "");
            return new Outgoing(type, out);
        }

        private String quoted() {
            return "\"" + contentType.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
        }

        private String name(int n) {
            return "file" + (n + 1) + "." + id + "@wire-kettle";
        }

        private byte[] head(boolean isFirst, String type, String contentId) {
            return ((isFirst ? "" : CRLF) + "--" + boundary + CRLF + "Content-Type: " + type + CRLF
                            + "Content-Transfer-Encoding: binary" + CRLF + "Content-ID: <" + contentId + ">" + CRLF
                            + CRLF)
                    .getBytes(StandardCharsets.UTF_8);
        }
    }
}
