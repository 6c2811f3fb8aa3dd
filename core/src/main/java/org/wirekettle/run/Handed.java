package org.wirekettle.run;

import java.util.function.BooleanSupplier;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;

/** A record that is handed over, and what whoever does so wants of it. */
public interface Handed {
    Node record();

    /**
     * Says its number, before anything is done for it.
     *
     * @return false to have it left alone after all
     */
    default boolean claim(long number) {
        return true;
    }

    /** How often it may be worked on until it counts as set aside. What was answered is not asked again. */
    default int attempts() {
        return 1;
    }

    /** Before another attempt. */
    default long waitMillis() {
        return 0;
    }

    /** Whether nobody waits for the reply any more; asked when it is there. */
    default boolean hasGone() {
        return false;
    }

    /** It has ended, and is not accounted for yet: whatever has to be known of it later is noted now. */
    default void ended(Trail trail) {
        // Most are content with what is kept of all.
    }

    /** Whether its end is only told once it is accounted for. */
    default boolean isAccounted() {
        return false;
    }

    /** One that somebody waits for. */
    static Handed of(Node record, BooleanSupplier hasGone) {
        return new Handed() {
            @Override
            public Node record() {
                return record;
            }

            @Override
            public boolean hasGone() {
                return hasGone.getAsBoolean();
            }
        };
    }

    /** Looks at records that were under way when an earlier process ended. */
    interface Left {
        /** It was worked on to where its answers are known, and is not accounted for yet. */
        void ended(Trail trail);

        /**
         * Records of before may have been begun of which nothing is known any more: what was noted of them is on a
         * machine that is gone.
         */
        void lost();
    }
}
