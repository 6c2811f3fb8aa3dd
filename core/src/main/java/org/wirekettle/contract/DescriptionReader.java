package org.wirekettle.contract;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.regex.Pattern;
import org.wirekettle.contract.http.OpenApiReader;
import org.wirekettle.contract.http.WadlReader;

/** Reads a description of any kind: it shows in its first lines which one it is. */
public final class DescriptionReader {
    private static final int HEAD_BYTES = 64 * 1024;
    /** Possessive throughout: what is looked at may have been made to keep a pattern busy. */
    private static final Pattern OPEN_API =
            Pattern.compile("(?m)^[ \\t]*+[{,]?+[ \\t]*+[\"']?+(?:openapi|swagger)[\"']?+[ \\t]*+:[ \\t]*+[\"']?+[23]");

    private static final Pattern APPLICATION = Pattern.compile("<(?:\\w{1,40}:)?application[\\s>]");
    private static final String WADL = "http://wadl.dev.java.net/";

    private DescriptionReader() {}

    /**
     * @param uri the root document's address, known to {@code source}
     * @throws org.wirekettle.problem.Refused when the root cannot be had or read, with line and reason
     */
    public static Contract read(String uri, Documents source) {
        byte[] root;
        try {
            root = source.get(uri);
        } catch (IOException e) {
            // Said in the words of a WSDL, what most are.
            return WsdlReader.read(uri, source);
        }
        return isOpenApi(root)
                ? OpenApiReader.read(uri, source)
                : isWadl(root) ? WadlReader.read(uri, source) : WsdlReader.read(uri, source);
    }

    static boolean isOpenApi(byte[] document) {
        String head = head(document);
        return !head.startsWith("<") && OPEN_API.matcher(head).find()
                || head.startsWith("{") && head.contains("\"paths\"");
    }

    static boolean isWadl(byte[] document) {
        String head = head(document);
        return head.contains(WADL) && APPLICATION.matcher(head).find();
    }

    /** Whether it is at least meant to be XML. */
    public static boolean isXml(byte[] document) {
        return head(document).startsWith("<");
    }

    /**
     * Its first lines for looking at, whatever encoding: without marks, and without what UTF-16 has between letters.
     */
    private static String head(byte[] document) {
        String text = new String(document, 0, Math.min(document.length, HEAD_BYTES), StandardCharsets.ISO_8859_1);
        return text.replace("\0", "")
                .replaceFirst("^(?:\u00EF\u00BB\u00BF|\u00FE\u00FF|\u00FF\u00FE)", "")
                .stripLeading();
    }
}
