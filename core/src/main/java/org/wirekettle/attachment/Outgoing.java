package org.wirekettle.attachment;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.attachment.AttachmentSettings.Format;
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
        String text = new String(message, charset);
        List<XopInclude.Found> named = named(text);
        if (named.isEmpty() && settings.format() != Format.MTOM) {
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
        return settings.format() == Format.INSIDE
                ? new Outgoing(contentType, inside(text, charset, named, files))
                : parts(text, charset, named, files, contentType, settings.format() == Format.MTOM);
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
            String text, Charset charset, List<XopInclude.Found> named, List<AttachedFiles.Found> files) {
        Content out = new Content();
        int at = 0;
        for (int i = 0; i < named.size(); i++) {
            out.bytes(text.substring(at, named.get(i).from()).getBytes(charset)).base64(files.get(i));
            at = named.get(i).to();
        }
        return out.bytes(text.substring(at).getBytes(charset));
    }

    private static Outgoing parts(
            String text,
            Charset charset,
            List<XopInclude.Found> named,
            List<AttachedFiles.Found> files,
            String contentType,
            boolean isXop) {
        String id = UUID.randomUUID().toString();
        String boundary = "wk-" + id;
        StringBuilder root = new StringBuilder(text.length());
        int at = 0;
        for (int i = 0; i < named.size(); i++) {
            String reference = XopInclude.PART + name(i, id);
            root.append(text, at, named.get(i).from()).append(isXop ? XopInclude.of(reference) : reference);
            at = named.get(i).to();
        }
        root.append(text, at, text.length());
        String main = "message." + id + "@wire-kettle";
        String quoted = "\"" + contentType.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
        String rootType = isXop
                ? "application/xop+xml; charset=" + charset.name().toLowerCase(java.util.Locale.ROOT) + "; type="
                        + quoted
                : contentType;
        Content out = new Content()
                .bytes(head(boundary, true, rootType, main))
                .bytes(root.toString().getBytes(charset));
        for (int i = 0; i < files.size(); i++) {
            out.bytes(head(boundary, false, "application/octet-stream", name(i, id)))
                    .file(files.get(i));
        }
        out.bytes((CRLF + "--" + boundary + "--" + CRLF).getBytes(StandardCharsets.US_ASCII));
        String plainType = contentType.split(";", 2)[0].strip();
        String type = "multipart/related; boundary=\"" + boundary + "\"; type=\""
                + (isXop ? "application/xop+xml" : plainType) + "\"; start=\"<" + main + ">\""
                + (isXop ? "; start-info=" + quoted : "");
        return new Outgoing(type, out);
    }

    private static String name(int n, String id) {
        return "file" + (n + 1) + "." + id + "@wire-kettle";
    }

    private static byte[] head(String boundary, boolean isFirst, String type, String id) {
        return ((isFirst ? "" : CRLF) + "--" + boundary + CRLF + "Content-Type: " + type + CRLF
                        + "Content-Transfer-Encoding: binary" + CRLF + "Content-ID: <" + id + ">" + CRLF + CRLF)
                .getBytes(StandardCharsets.UTF_8);
    }
}
