package org.wirekettle.expression;

import java.util.List;

/** Sources in which a computed value may be looked up, one field by another. */
@FunctionalInterface
public interface ValueLists {
    /** Where there is no project, there are none. */
    ValueLists NONE = (source, key, value) -> {
        throw new NoList("values are looked up in sources within flows only");
    };

    /**
     * A list that any thread may ask.
     *
     * @param key the field that is compared, as text
     * @param value the field that is given
     * @throws NoList when there is no such source, or it has not these fields
     */
    ValueList find(String source, String key, String value) throws NoList;

    /** The values of one field by those of another. */
    @FunctionalInterface
    interface ValueList {
        /** @return all that is given for it; nothing where it is not there. @throws EvaluationFailed if unreadable */
        List<String> find(String key) throws EvaluationFailed;
    }

    /** It cannot be looked up, in words. */
    final class NoList extends Exception {
        private static final long serialVersionUID = 1;

        public NoList(String message) {
            super(message, null, false, false);
        }
    }
}
