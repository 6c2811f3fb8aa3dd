package org.wirekettle.record;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.xml.FieldNames;

/** Records as trees: kept as XML text and read back the same, whatever is in them. */
public class RecordTest {
    @DataProvider
    public Object[][] texts() {
        return new Object[][] {
            {"plain"},
            {"a < b & c > \"d\" 'e'"},
            {"line\r\nend\ttab"},
            {"]]>"},
            {""},
            {"  blanks  "},
            {"Ä日本😀"},
            {"<![CDATA[x]]>"},
            {"&amp;"}
        };
    }

    @Test(dataProvider = "texts")
    public void whatIsKeptIsReadBack(String text) throws Exception {
        Node n = new Node("", "record");
        Node inner = new Node("urn:x", "inner");
        Node attribute = new Node("urn:a", "at");
        attribute.text(text);
        inner.addAttribute(attribute);
        inner.add(Node.leaf("leaf", text));
        n.add(inner);
        Node back = NodeXml.read(NodeXml.write(n));
        assertEquals(back.child("inner").child("leaf").string(), text);
        assertEquals(back.child("inner").attributes().get(0).string(), text);
        assertEquals(back.child("inner").namespace(), "urn:x");
        assertEquals(back.child("inner").child("leaf").namespace(), "");
        assertEquals(NodeXml.write(back), NodeXml.write(n));
    }

    @Test
    public void charactersThatXmlCannotHoldAreReplaced() throws Exception {
        assertEquals(
                NodeXml.read(NodeXml.write(Node.leaf("a", "x\u0000y\u0008"))).string(), "x\ufffdy\ufffd");
    }

    @Test
    public void labelsBecomeNames() {
        assertEquals(FieldNames.name("Call Ref"), "Call_x0020_Ref");
        assertEquals(FieldNames.name("1st"), "_x0031_st");
        assertEquals(FieldNames.name("größe_m"), "größe_m");
        assertEquals(FieldNames.name("a:b"), "a_x003A_b");
        assertEquals(
                FieldNames.name("_x0020_"),
                "_x005F_x0020_",
                "what looks escaped is escaped, so that the label can be had back");
        assertEquals(FieldNames.name(""), "_x0000_");
    }

    @Test
    public void aNodeKnowsItsSurroundings() throws Exception {
        Node n = NodeXml.read("<a><b>1</b><c><b>2</b><d/></c></a>");
        assertEquals(n.string(), "12");
        assertEquals(n.child("c").child("b").parent().parent(), n);
        assertNull(n.child("z"));
        assertTrue(n.child("c").child("d").isLeaf());
        assertTrue(NodeXml.read("<a xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance' xsi:nil='true'/>")
                .isNil());
    }
}
