package org.wirekettle.call;

import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A page for people that comes instead of an answer: of a portal, a proxy, a server that is not well. Pure. */
final class Page {
    private static final Pattern TITLE = Pattern.compile("(?is)<title[^>]*>\\s*(.{1,200}?)\\s*</title>");
    private static final Pattern BEGINS = Pattern.compile("(?is)^\\W*(<!--.*?-->\\s*)*<(!doctype html|html)\\b.*");
    private static final int LOOKED_AT = 4_000;

    private Page() {}

    static String start(Exchange x) {
        return new String(x.answer(), 0, Math.min(LOOKED_AT, x.answer().length), StandardCharsets.UTF_8);
    }

    static Optional<String> title(Exchange x) {
        Matcher m = TITLE.matcher(start(x));
        return m.find() ? Optional.of(m.group(1).replaceAll("\\s+", " ")) : Optional.empty();
    }

    static boolean is(Exchange x) {
        return x.contentType().orElse("").toLowerCase(java.util.Locale.ROOT).startsWith("text/html")
                || BEGINS.matcher(start(x)).matches();
    }
}
