package org.wirekettle.flow;

/** What a compiled step does with one record. Used by many threads at once. */
@FunctionalInterface
interface Stage {
    /** Where the record goes next; may be called any number of times. */
    @FunctionalInterface
    interface Next {
        void accept(Item item) throws SetAside;
    }

    void process(Item item, Next next) throws SetAside;
}
