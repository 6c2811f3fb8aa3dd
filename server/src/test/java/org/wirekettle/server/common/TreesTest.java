package org.wirekettle.server.common;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import org.testng.annotations.Test;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.server.common.Trees.Tree;

/** Records and messages as the pages show them: what they say, not how they are written. */
public class TreesTest {
    private static Tree tree(String xml) throws Exception {
        return Trees.of(NodeXml.read(xml));
    }

    private static String names(Tree t) {
        return String.join(
                " ", t.children().stream().map(c -> c.name() + "=" + c.text()).toList());
    }

    @Test
    public void attributesComeFirstAndPlumbingDoesNot() throws Exception {
        Tree t = tree("<a xmlns='urn:a' xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'"
                + " xmlns:i='http://www.w3.org/2001/XMLSchema-instance' xmlns:b='urn:b' e:mustUnderstand='1'"
                + " i:schemaLocation='urn:a a.xsd' ref='W1' b:unit='m'><depth>7</depth></a>");
        assertEquals(names(t), "@ref=W1 @unit=m depth=7");
        assertEquals(t.namespace(), "urn:a");
        assertNull(t.text(), "what has elements inside has no text");
        assertEquals(t.children().get(1).namespace(), "urn:b");
    }

    @Test
    public void aNilAndAKindAreSaid() throws Exception {
        Tree t = tree("<a xmlns:i='http://www.w3.org/2001/XMLSchema-instance' xmlns:k='urn:k'><b i:nil='true'/>"
                + "<c i:type='k:Bulk'><d>1</d></c><e i:type='k:int'>5</e></a>");
        assertEquals(t.children().get(0).nil(), Boolean.TRUE);
        assertEquals(t.children().get(1).kind(), "Bulk");
        assertNull(t.children().get(2).kind(), "of a plain value its written type is no kind");
        assertNull(t.children().get(2).children());
    }

    @Test
    public void anEmptyElementIsAnEmptyText() throws Exception {
        assertEquals(tree("<a><b/></a>").children().get(0).text(), "");
    }

    @Test
    public void aTreeWithoutEndIsCutOff() {
        Node root = new Node("", "r");
        for (int i = 0; i < 30_000; i++) {
            root.add(Node.leaf("n", "v"));
        }
        assertEquals(Trees.of(root).children().size(), 20_000);
        Node deep = new Node("", "r");
        Node at = deep;
        for (int i = 0; i < 500; i++) {
            Node next = new Node("", "n");
            at.add(next);
            at = next;
        }
        assertTrue(Trees.of(deep).children().size() == 1);
    }
}
