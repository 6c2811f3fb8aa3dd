package org.wirekettle.connector.file;

import java.util.List;
import java.util.Optional;
import org.wirekettle.record.Node;

/** What a row of values takes: one value a column. What is nested or repeats would be lost there, or run together. */
public final class FlatRows {
    private FlatRows() {}

    /**
     * Why a row does not fit columns, in words.
     *
     * @param names of the columns, as rows have them
     * @param labels of the columns, as people know them
     */
    public static Optional<String> refusal(Node row, List<String> names, List<String> labels) {
        List<Node> children = row.children();
        boolean isPlain = children.size() <= names.size();
        for (int i = 0; isPlain && i < children.size(); i++) {
            isPlain = children.get(i).isLeaf()
                    && (i == 0
                            || !children.get(i)
                                    .name()
                                    .equals(children.get(i - 1).name()));
        }
        if (isPlain) {
            return Optional.empty();
        }
        for (int i = 0; i < names.size(); i++) {
            int times = 0;
            for (Node c : children) {
                if (c.name().equals(names.get(i))) {
                    times++;
                    if (!c.isLeaf()) {
                        return Optional.of(labels.get(i) + " has fields inside; a column takes one value");
                    }
                }
            }
            if (times > 1) {
                return Optional.of(labels.get(i) + " is there " + times + " times; a column takes one value");
            }
        }
        return Optional.empty();
    }
}
