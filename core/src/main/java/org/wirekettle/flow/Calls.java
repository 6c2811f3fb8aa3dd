package org.wirekettle.flow;

import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.record.Node;

/** Makes one record's calls: one whose answer is known is remembered instead of made again. */
public interface Calls {
    /** A call to be made. */
    interface Call {
        Exchange make();

        /** A call's exchange from an earlier time, as this call would have made it. */
        Exchange remembered(Exchange kept);

        /** Tells this request from another one; without what is new each time, such as sessions and message ids. */
        byte[] digest();

        /** Likewise with what is once a run, as earlier versions did. */
        default byte[] wholeDigest() {
            return digest();
        }

        boolean isSafeToRepeat();
    }

    /**
     * @param path the call's key: the path of its step
     * @throws Failure when it may not be made, since it may have been already
     */
    Exchange call(String path, Call call) throws Failure;

    /** Whether there can be an answer; while designing there is none for a call that was never tried. */
    default boolean hasAnswer(String path) {
        return true;
    }

    /**
     * A call that is made once for all records of a run.
     *
     * @param step its id
     */
    default Exchange once(String step, Call call) throws Failure {
        return call(step, call);
    }

    /**
     * The answer of such a call cannot be used any more; the next record that needs it calls again.
     *
     * @param used the answer; another one that was got meanwhile stays
     */
    default void forgetOnce(String step, Exchange used) {
        // nothing is kept
    }

    /**
     * A call whose answer records of the run share when their requests are equal.
     *
     * @param step its id, the same for all of them
     */
    default Exchange shared(String path, String step, Call call) throws Failure {
        return call(path, call);
    }

    /** Whether it is the answer to an equal request of another record, or of another part of this one. */
    default boolean isShared(Exchange x) {
        return false;
    }

    /** What such a call answered turned out to be a failure: the next record with that request asks again. */
    default void unshare(Exchange x) {
        // nothing is shared
    }

    /** Whether this was made for the record now, and not remembered from an earlier time. */
    default boolean wasMade(Exchange x) {
        return true;
    }

    /** Something from outside that is no call, such as rows looked up. */
    @FunctionalInterface
    interface Value {
        List<Node> get() throws Failure;
    }

    /** @param path the value's key. @return what it was the first time */
    default List<Node> value(String path, Value value) throws Failure {
        return value.get();
    }

    /** Whether it is only asked what became of a call that may have happened. */
    default boolean asks() {
        return false;
    }

    /** Calls that are simply made, as when trying a flow. */
    Calls DIRECT = (path, call) -> call.make();
}
