package org.wirekettle.run;

import java.util.ArrayList;
import java.util.List;

/** A sample of many things that lie in portions, from all over them; the same whenever it is taken. */
public final class Spread {
    /** Of a portion of many, all is read to take some of it: so many are. */
    private static final int MOST_PORTIONS = 20;

    private Spread() {}

    /** @param portion which, from 0. @param count how many are taken of it */
    public record Share(int portion, int count) {}

    /**
     * Which portions are looked into; all of them and for all they have where that is no more than wanted.
     *
     * @param sizes of the portions, in order
     * @param most to be taken altogether
     */
    public static List<Share> over(List<Integer> sizes, int most) {
        long all = sizes.stream().mapToLong(Integer::longValue).sum();
        int portions = all <= most ? sizes.size() : Math.min(sizes.size(), Math.min(MOST_PORTIONS, most));
        List<Share> out = new ArrayList<>(portions);
        for (int i = 0; i < portions; i++) {
            int portion = (int) ((long) i * sizes.size() / portions);
            // What division leaves over goes to the first ones.
            int count = most / portions + (i < most % portions ? 1 : 0);
            out.add(new Share(portion, all <= most ? sizes.get(portion) : Math.min(count, sizes.get(portion))));
        }
        return out;
    }

    /** So many of a list, as far from each other as may be; the first is one of them. */
    public static <T> List<T> of(List<T> all, int count) {
        if (count >= all.size()) {
            return all;
        }
        List<T> out = new ArrayList<>(count);
        for (int i = 0; i < count; i++) {
            out.add(all.get((int) ((long) i * all.size() / count)));
        }
        return out;
    }
}
