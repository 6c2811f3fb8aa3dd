package org.wirekettle.server.runs;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.transaction.Transactional;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.wirekettle.server.common.Wrong;

/** What people decide about records that wait, with who and why. */
@ApplicationScoped
public class Settling {
    private static final int MAX_REASON_CHARS = 1_000;
    /** Stands for the portion where no portion resolved a record. */
    private static final long BY_HAND = -1;

    private final RunMapper rows;

    Settling(RunMapper rows) {
        this.rows = rows;
    }

    /** What was found out, or wanted. */
    enum Verdict {
        /** The call did happen: the record counts as done, though nothing of it was written here. */
        HAPPENED("happened"),
        /** The call did not happen: the record is no longer in doubt, and can go on. */
        NOT_HAPPENED("not happened"),
        /** The record is given up. */
        DISCARDED("discarded");

        private final String words;

        Verdict(String words) {
            this.words = words;
        }

        static Verdict of(String words) {
            Optional<Verdict> found =
                    Arrays.stream(values()).filter(v -> v.words.equals(words)).findFirst();
            return found.orElseThrow(
                    () -> Wrong.input("settle.verdict", "The verdict is happened, not happened or discarded."));
        }
    }

    /** @return how many records were waiting and are settled */
    @Transactional
    int settle(long run, List<Long> numbers, Verdict verdict, String reason, String by) {
        if (reason == null || reason.isBlank() || reason.length() > MAX_REASON_CHARS) {
            throw Wrong.input("settle.reason", "Give the reason, in at most " + MAX_REASON_CHARS + " characters.");
        }
        rows.lockState(run);
        int settled = 0;
        for (long n : numbers) {
            settled += settle(run, n, verdict, reason.strip(), by) ? 1 : 0;
        }
        if (settled == 0) {
            throw Wrong.input(
                    "settle.none",
                    verdict == Verdict.DISCARDED
                            ? "None of these records is waiting."
                            : "None of these records is in doubt.");
        }
        return settled;
    }

    private boolean settle(long run, long number, Verdict verdict, String reason, String by) {
        RunMapper.AsideRow a = rows.lockAside(run, number);
        if (a == null || verdict != Verdict.DISCARDED && !a.inDoubt) {
            return false;
        }
        int doubt = a.inDoubt ? -a.records : 0;
        int aside = a.inDoubt ? 0 : -a.records;
        switch (verdict) {
            case NOT_HAPPENED -> {
                rows.didNotHappen(run, number, "the call did not happen, says " + by + ": " + reason);
                rows.shift(run, 0, a.records, -a.records, 0);
            }
            case HAPPENED -> {
                rows.resolveAside(run, number, a.pass, BY_HAND);
                rows.shift(run, a.records, 0, -a.records, 0);
            }
            default -> {
                rows.resolveAside(run, number, a.pass, BY_HAND);
                rows.shift(run, 0, aside, doubt, a.records);
            }
        }
        rows.putSettled(run, number, verdict.words, reason, by);
        return true;
    }
}
