package org.wirekettle.xml;

/** Which characters a name may have (XML 1.0 fifth edition §2.3, without the colon as in Namespaces §3). */
public final class XmlNames {
    private XmlNames() {}

    public static boolean isStart(int c) {
        return c >= 'a' && c <= 'z'
                || c >= 'A' && c <= 'Z'
                || c == '_'
                || c >= 0xC0 && c <= 0x2FF && c != 0xD7 && c != 0xF7
                || c >= 0x370 && c <= 0x1FFF && c != 0x37E
                || c == 0x200C
                || c == 0x200D
                || c >= 0x2070 && c <= 0x218F
                || c >= 0x2C00 && c <= 0x2FEF
                || c >= 0x3001 && c <= 0xD7FF
                || c >= 0xF900 && c <= 0xFDCF
                || c >= 0xFDF0 && c <= 0xFFFD
                || c >= 0x10000 && c <= 0xEFFFF;
    }

    public static boolean isPart(int c) {
        return isStart(c)
                || c >= '0' && c <= '9'
                || c == '-'
                || c == '.'
                || c == 0xB7
                || c >= 0x300 && c <= 0x36F
                || c == 0x203F
                || c == 0x2040;
    }

    /** The end of the name that begins there, or the same place when none does. */
    public static int end(String s, int from) {
        int at = from;
        while (at < s.length()) {
            int c = s.codePointAt(at);
            if (at == from ? !isStart(c) : !isPart(c)) {
                break;
            }
            at += Character.charCount(c);
        }
        return at;
    }

    public static boolean isName(String s) {
        return !s.isEmpty() && end(s, 0) == s.length();
    }
}
