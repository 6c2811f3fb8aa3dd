package org.wirekettle.connector;

import java.util.Locale;
import java.util.Set;
import org.wirekettle.problem.Show;

/**
 * A query's text, told apart by PostgreSQL's lexical rules (PostgreSQL documentation §4.1): text constants of all kinds
 * with their continuation over lines, quoted names, dollar quotes, nested comments. So a text that would end the
 * transaction it runs in is known before it is sent. Used once.
 */
final class SqlText {
    /** What a statement that reads begins with. */
    private static final Set<String> READING = Set.of("select", "with", "values", "table");

    private final String sql;
    private final StringBuilder out;
    private int at;
    private int end = -1;

    private SqlText(String sql) {
        this.sql = sql;
        this.out = new StringBuilder(sql);
    }

    /**
     * The one reading statement in a text, without comments and without the semicolon that may end it; its characters
     * keep their places.
     *
     * @throws IllegalArgumentException in words, when it is no statement, more than one, or one that does not read
     */
    static String reading(String sql) {
        SqlText t = new SqlText(sql);
        if (sql.indexOf('\0') >= 0) {
            throw new IllegalArgumentException("the query has a NUL character");
        }
        while (t.at < sql.length()) {
            t.token();
        }
        String statement = t.out.substring(0, t.end < 0 ? sql.length() : t.end).stripTrailing();
        String word = firstWord(statement);
        if (word.isEmpty()) {
            throw new IllegalArgumentException("the query is empty");
        }
        if (!READING.contains(word.toLowerCase(Locale.ROOT))) {
            throw new IllegalArgumentException(
                    "a query reads: it begins with SELECT, WITH, VALUES or TABLE, not with " + Show.value(word));
        }
        return statement;
    }

    /** Where the text constant, quoted name or word ends that begins there; the same place when none does. */
    static int literalEnd(String sql, int from) {
        char c = sql.charAt(from);
        if (c != '\'' && c != '"' && c != '$' && !isNameStart(c)) {
            return from;
        }
        SqlText t = new SqlText(sql);
        t.at = from;
        t.significant(c);
        return t.at;
    }

    private static String firstWord(String statement) {
        int from = 0;
        while (from < statement.length() && (isSpace(statement.charAt(from)) || statement.charAt(from) == '(')) {
            from++;
        }
        int to = from;
        while (to < statement.length() && isNamePart(statement.charAt(to))) {
            to++;
        }
        return to > from || to == statement.length()
                ? statement.substring(from, to)
                : statement.substring(from, from + 1);
    }

    private char peek(int ahead) {
        return at + ahead < sql.length() ? sql.charAt(at + ahead) : '\0';
    }

    private void token() {
        char c = sql.charAt(at);
        if (isSpace(c)) {
            at++;
        } else if (c == '-' && peek(1) == '-') {
            lineComment();
        } else if (c == '/' && peek(1) == '*') {
            blockComment();
        } else if (c == ';') {
            end = end < 0 ? at : end;
            at++;
        } else {
            if (end >= 0) {
                throw new IllegalArgumentException(
                        "a query is one statement; this text has another one in line " + line(at));
            }
            significant(c);
        }
    }

    private void significant(char c) {
        if (c == '\'') {
            constant(false);
        } else if ((c == 'e' || c == 'E') && peek(1) == '\'') {
            at++;
            constant(true);
        } else if (c == '"') {
            quoted();
        } else if (isNameStart(c)) {
            while (at < sql.length() && isNamePart(sql.charAt(at))) {
                at++;
            }
        } else if (c == '$' && !dollarQuoted()) {
            at++;
        } else if (c != '$') {
            at++;
        }
    }

    /** Until the newline, which stays: it may stand between the parts of one constant. */
    private void lineComment() {
        while (at < sql.length() && sql.charAt(at) != '\n' && sql.charAt(at) != '\r') {
            out.setCharAt(at++, ' ');
        }
    }

    private void blockComment() {
        int begin = at;
        int depth = 0;
        do {
            boolean opens = peek(0) == '/' && peek(1) == '*';
            boolean closes = peek(0) == '*' && peek(1) == '/';
            if (at >= sql.length()) {
                throw new IllegalArgumentException("the comment that begins in line " + line(begin) + " has no end");
            }
            depth += opens ? 1 : closes ? -1 : 0;
            for (int n = opens || closes ? 2 : 1; n > 0; n--, at++) {
                if (sql.charAt(at) != '\n' && sql.charAt(at) != '\r') {
                    out.setCharAt(at, ' ');
                }
            }
        } while (depth > 0);
    }

    /** A text constant with the parts that continue it on further lines (§4.1.2.1), all read alike. */
    private void constant(boolean escapes) {
        int begin = at;
        do {
            at++;
            while (true) {
                if (at >= sql.length()) {
                    throw new IllegalArgumentException(
                            "the text constant that begins in line " + line(begin) + " has no end");
                }
                char c = sql.charAt(at);
                if (c == '\\' && escapes) {
                    at += 2;
                } else if (c == '\'' && peek(1) == '\'') {
                    at += 2;
                } else if (c == '\'') {
                    at++;
                    break;
                } else {
                    at++;
                }
            }
        } while (continues());
    }

    /** Whether only white space with a newline, and line comments, stand before another quote. Goes there if so. */
    private boolean continues() {
        int from = at;
        boolean newline = false;
        while (at < sql.length()) {
            char c = sql.charAt(at);
            if (isSpace(c)) {
                newline |= c == '\n' || c == '\r';
                at++;
            } else if (c == '-' && peek(1) == '-') {
                lineComment();
            } else {
                break;
            }
        }
        if (newline && peek(0) == '\'') {
            return true;
        }
        at = from;
        return false;
    }

    private void quoted() {
        int begin = at++;
        while (at < sql.length()) {
            if (sql.charAt(at) == '"' && peek(1) == '"') {
                at += 2;
            } else if (sql.charAt(at++) == '"') {
                return;
            }
        }
        throw new IllegalArgumentException("the quoted name that begins in line " + line(begin) + " has no end");
    }

    /** {@code $tag$…$tag$} (§4.1.2.4). @return false when the dollar begins none */
    private boolean dollarQuoted() {
        int to = at + 1;
        while (to < sql.length() && isNamePart(sql.charAt(to)) && sql.charAt(to) != '$') {
            to++;
        }
        boolean isTag = to < sql.length() && sql.charAt(to) == '$' && (to == at + 1 || isNameStart(sql.charAt(at + 1)));
        if (!isTag) {
            return false;
        }
        String tag = sql.substring(at, to + 1);
        int close = sql.indexOf(tag, to + 1);
        if (close < 0) {
            throw new IllegalArgumentException(
                    "the text constant that begins with " + tag + " in line " + line(at) + " has no end");
        }
        at = close + tag.length();
        return true;
    }

    private int line(int offset) {
        return 1 + (int) sql.substring(0, offset).chars().filter(c -> c == '\n').count();
    }

    private static boolean isSpace(char c) {
        return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' || c == '\u000b';
    }

    private static boolean isNameStart(char c) {
        return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c == '_' || c >= 0x80;
    }

    private static boolean isNamePart(char c) {
        return isNameStart(c) || c >= '0' && c <= '9' || c == '$';
    }
}
