package org.wirekettle.problem;

/**
 * Where in foreign input something was found.
 *
 * @param document its address or file name, as the user knows it
 * @param line first line is 1; 0 when unknown
 * @param column first column is 1; 0 when unknown
 */
public record Place(String document, int line, int column) {
    public static Place of(String document) {
        return new Place(document, 0, 0);
    }

    @Override
    public String toString() {
        return line == 0 ? document : document + ", line " + line + (column == 0 ? "" : ", column " + column);
    }
}
