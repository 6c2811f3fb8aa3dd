package org.wirekettle.flow;

import java.util.AbstractList;
import java.util.Objects;
import java.util.function.Supplier;
import org.wirekettle.record.Node;

/** One node that is made when it is first asked for. Belongs to one record and one thread. */
final class OneLater extends AbstractList<Node> {
    private final Supplier<Node> making;
    private Node made;

    OneLater(Supplier<Node> making) {
        this.making = making;
    }

    @Override
    public Node get(int index) {
        Objects.checkIndex(index, size());
        if (made == null) {
            made = making.get();
        }
        return made;
    }

    @Override
    public int size() {
        return 1;
    }
}
