package org.wirekettle.record;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.List;
import org.testng.annotations.Test;

/** Trees come back from their bytes as they were. */
public class NodeBytesTest {
    @Test
    public void treesComeBackAsTheyWere() throws Exception {
        Node tree =
                NodeXml.read("<r xmlns='urn:a' k='v' xmlns:b='urn:b' b:k='w'><n>1</n><n/><m>one <i>two</i> three</m>"
                        + "<deep><deeper><deepest>ü €</deepest></deeper></deep></r>");
        Node nil = new Node("", "empty");
        nil.nil(true);
        tree.add(nil);
        Node read = NodeBytes.read(NodeBytes.write(tree));
        assertEquals(NodeXml.write(read), NodeXml.write(tree));
        assertTrue(read.child("empty").isNil());
        assertEquals(NodeXml.write(tree.copy()), NodeXml.write(tree));
        assertEquals(tree.copy().parent(), null);
    }

    @Test
    public void severalTreesShareTheirNames() throws Exception {
        Node one = NodeXml.read("<call_reference>TR-1</call_reference>");
        List<Node> read = NodeBytes.readAll(NodeBytes.writeAll(List.of(one, one, one)));
        assertEquals(read.stream().map(Node::string).toList(), List.of("TR-1", "TR-1", "TR-1"));
        assertTrue(NodeBytes.writeAll(List.of(one, one)).length < 2 * NodeBytes.write(one).length);
        assertEquals(NodeBytes.readAll(NodeBytes.writeAll(List.of())), List.of());
        String big = "x".repeat(300_000);
        assertEquals(NodeBytes.read(NodeBytes.write(Node.leaf("t", big))).string(), big);
    }
}
