package org.wirekettle.flow;

import org.wirekettle.call.Exchange;

/** Makes one record's calls: a journalled one is remembered instead of made again. */
interface Calls {
    /** A call to be made. */
    interface Call {
        Exchange make();
    }

    /** @param index the record's how-manieth call, from 0 */
    Exchange call(int index, byte[] request, Call call) throws SetAside;

    /** Calls that are simply made, as when trying a flow. */
    Calls DIRECT = (index, request, call) -> call.make();
}
