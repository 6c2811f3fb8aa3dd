package org.wirekettle.server.data;

import java.util.LinkedHashMap;
import java.util.Map;
import org.wirekettle.document.DocumentLanguage;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.data.Data.ShapeSettings;

/** Shapes as they are read; the last few are kept, since each look at a fill wants one. */
final class Shapes {
    private static final int MAX_KEPT = 20;

    private final Map<Key, DocumentShape> kept = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, DocumentShape> eldest) {
            return size() > MAX_KEPT;
        }
    };

    private record Key(String language, ShapeSettings settings) {}

    /** @throws Refused with file and line, when it cannot be read */
    DocumentShape of(String language, ShapeSettings s) {
        Key key = new Key(language, s);
        synchronized (kept) {
            DocumentShape known = kept.get(key);
            if (known != null) {
                return known;
            }
        }
        DocumentShape read;
        try {
            read = DocumentShape.read(DocumentLanguage.of(language), s.files(), s.root());
        } catch (IllegalArgumentException e) {
            throw new Refused("shape.language", null, e.getMessage());
        }
        synchronized (kept) {
            kept.put(key, read);
        }
        return read;
    }
}
