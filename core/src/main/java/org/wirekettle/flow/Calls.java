package org.wirekettle.flow;

import org.wirekettle.call.Exchange;

/** Makes one record's calls: one whose answer is known is remembered instead of made again. */
interface Calls {
    /** A call to be made. */
    interface Call {
        Exchange make();

        /** A call's exchange from an earlier time, as this call would have made it. */
        Exchange remembered(Exchange kept);

        /** Tells this request from another one; without what is new each time, such as tokens and message ids. */
        byte[] digest();

        boolean isSafeToRepeat();
    }

    /**
     * @param index the record's how-manieth call, from 0
     * @throws SetAside when it may not be made, since it may have been already
     */
    Exchange call(int index, Call call) throws SetAside;

    /** Calls that are simply made, as when trying a flow. */
    Calls DIRECT = (index, call) -> call.make();
}
