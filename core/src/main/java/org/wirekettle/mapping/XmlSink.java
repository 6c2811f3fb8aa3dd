package org.wirekettle.mapping;

import org.wirekettle.xml.Escape;

/** Writes XML text with the tags the rows have prepared. */
final class XmlSink implements Sink {
    private final StringBuilder out;
    private int[] starts = new int[16];
    /** Elements inside each open one, so far. */
    private int[] counts = new int[17];

    private int depth;
    private boolean tagOpen;

    XmlSink(StringBuilder out) {
        this.out = out;
    }

    private void closeTag() {
        if (tagOpen) {
            out.append('>');
            tagOpen = false;
        }
    }

    @Override
    public int mark() {
        return tagOpen ? ~out.length() : out.length();
    }

    @Override
    public void rewind(int mark) {
        tagOpen = mark < 0;
        out.setLength(tagOpen ? ~mark : mark);
    }

    @Override
    public void start(Row row) {
        int mark = mark();
        closeTag();
        if (depth == starts.length) {
            starts = java.util.Arrays.copyOf(starts, depth * 2);
            counts = java.util.Arrays.copyOf(counts, depth * 2 + 1);
        }
        counts[depth]++;
        starts[depth++] = mark;
        counts[depth] = 0;
        out.append(row.openTag);
        tagOpen = true;
    }

    @Override
    public void leaf(Row row, String value) {
        closeTag();
        counts[depth]++;
        out.append(row.openLeaf);
        Escape.text(value, out);
        out.append(row.closeTag);
    }

    @Override
    public void attribute(Row row, String value) {
        out.append(' ').append(row.tagName).append("=\"");
        Escape.attribute(value, out);
        out.append('"');
    }

    @Override
    public void nil(Row row) {
        out.append(" xsi:nil=\"true\"");
    }

    @Override
    public void rawAttributes(String attributes) {
        out.append(' ').append(attributes.strip());
    }

    @Override
    public int attributesAt() {
        return out.length();
    }

    @Override
    public void arraySize(Row row, int attributesAt) {
        out.insert(attributesAt, " " + row.arrayAttribute + "=\"" + row.arrayType + "[" + counts[depth] + "]\"");
    }

    @Override
    public void text(String value) {
        closeTag();
        Escape.text(value, out);
    }

    @Override
    public void raw(String xml) {
        closeTag();
        out.append(xml);
    }

    @Override
    public void end(Row row, boolean keep) {
        int start = starts[--depth];
        if (!keep) {
            counts[depth]--;
            rewind(start);
            return;
        }
        if (tagOpen) {
            out.append("/>");
            tagOpen = false;
        } else {
            out.append(row.closeTag);
        }
    }
}
