package org.wirekettle.run;

import java.util.List;
import java.util.function.Function;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Trail;

/**
 * A record that ended.
 *
 * @param way the long part of its trail as bytes, see {@link TrailBlock#way}
 * @param rows what it writes, in the order of its effects
 * @param member where it was gathered; null when it was not
 * @param bytes what is kept of it until it is accounted for
 */
record Ended(Trail trail, List<byte[]> way, List<OutputRows.Row> rows, Member member, long bytes) {
    /** @param shown what may be kept of an exchange */
    static Ended of(Trail trail, Function<Exchange, byte[]> shown) {
        List<byte[]> way = TrailBlock.way(trail, shown);
        List<OutputRows.Row> rows =
                OutputRows.of(trail.number(), trail.effects().rows());
        Member member = Member.of(trail);
        long bytes = member == null ? 0 : member.entries().length;
        for (byte[] part : way) {
            bytes += part.length;
        }
        for (OutputRows.Row r : rows) {
            bytes += r.bytes().length;
        }
        for (Trail.Event e : trail.events()) {
            bytes += e.exchange() == null ? 0 : e.exchange().bytes();
        }
        return new Ended(trail, way, rows, member, bytes);
    }
}
