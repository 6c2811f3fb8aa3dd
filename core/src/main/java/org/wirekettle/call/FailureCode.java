package org.wirekettle.call;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange.Outcome;

/**
 * Why a call has no usable answer: the one table of it. What a flow tests, what a person is told to do, and whether the
 * service may have got the request. Failures that carry a name of their own ({@code HTTP 503}, {@code fault
 * UnknownPort}) are families here.
 */
public enum FailureCode {
    // Groups first: what was kept before the codes were told apart has only these. Numbers are kept, never reused.
    UNREACHABLE(1, "unreachable", Reached.NO, true, "Probe the connection: it shows where the way ends."),
    NO_ANSWER(2, "no answer", Reached.UNKNOWN, true, "Find out whether the call happened, then settle it."),
    UNREADABLE(3, "unreadable answer", Reached.YES, false, "Look at the answer as it came."),

    NOT_ALLOWED(
            4, "not allowed", UNREACHABLE, false, "An administrator can put the host on the list of those allowed."),
    NAME_NOT_FOUND(
            5,
            "name not found",
            UNREACHABLE,
            true,
            "Look at the spelling of the host, and at the network's name server."),
    REFUSED(6, "refused", UNREACHABLE, true, "Nothing listens there: look at the port, and whether the service runs."),
    NO_WAY(7, "no way there", UNREACHABLE, true, "Look at the network, and at firewalls between."),
    CONNECT_TIMEOUT(
            8, "connect time-out", UNREACHABLE, true, "Look at firewalls between, or give it more time to connect."),
    BUSY(9, "all busy", UNREACHABLE, true, "Allow more calls at a time, or send fewer."),
    PROXY(10, "proxy refuses", UNREACHABLE, false, "Look at the proxy's address and log-in, and what it lets through."),
    TLS_UNTRUSTED(
            11, "TLS untrusted", UNREACHABLE, false, "Probe the connection: its issuer can be trusted from there."),
    TLS_EXPIRED(12, "TLS expired", UNREACHABLE, false, "The people of the service have to renew their certificate."),
    TLS_NAME(13, "TLS name", UNREACHABLE, false, "Use the address that the certificate is for."),
    TLS_OTHER(14, "TLS other", UNREACHABLE, false, "Look at versions, at our own certificate, and whether it is TLS."),
    NO_TOKEN(15, "no token", UNREACHABLE, true, "Look at the log-in, and at the address where tokens are had."),
    NO_SESSION(16, "no session", UNREACHABLE, true, "Look at the log-in operation of the connection."),
    AWAY(
            17,
            "service away",
            UNREACHABLE,
            false,
            "Look whether the service runs; the connection lets all go on by hand."),

    UNSENDABLE(18, "cannot be sent", UNREACHABLE, false, "Mend the request: it says what is wrong with it."),

    ANSWER_TIMEOUT(20, "answer time-out", NO_ANSWER, true, "Find out whether the call happened; allow more time."),
    RESET(21, "reset", NO_ANSWER, true, "Find out whether the call happened: the connection broke."),
    CUT_SHORT(22, "cut short", NO_ANSWER, true, "Find out whether the call happened: its answer broke off."),
    NOT_HTTP(23, "not HTTP", NO_ANSWER, false, "Look at the port: what answers there does not speak HTTP."),
    TOO_LARGE(24, "too large", NO_ANSWER, false, "Allow larger answers, or ask for less."),
    ENDED(25, "ended", NO_ANSWER, true, "The run was stopped while the call was under way; settle it."),

    NOT_XML(30, "not XML", UNREADABLE, false, "Look at the answer: is it from the service at all?"),
    NOT_JSON(32, "not JSON", UNREADABLE, false, "Look at the answer: is it from the service at all?"),
    NOT_SOAP(31, "not SOAP", UNREADABLE, false, "Look at the answer: a page, or another kind of service?"),

    HTTP_STATUS(40, "HTTP", Reached.YES, false, "Look at the answer's text, it may say why."),
    FAULT(41, "fault", Reached.YES, false, "The service says no: its reason and detail say why."),
    ERROR_INSIDE(42, "error inside", Reached.YES, false, "The answer says that it failed, by the operation's rule."),
    UNFIT(
            43,
            "does not fit",
            Reached.YES,
            false,
            "Compare the contract with its source, or take such answers as they are."),
    SIGNATURE(44, "signature wrong", Reached.YES, false, "Do not believe the answer: ask the people of the service.");

    /** Whether the service may have got the request, and worked on it. */
    public enum Reached {
        /** It did not. */
        NO,
        /** It was sent, or may have been, and what came of it is not known. */
        UNKNOWN,
        /** It answered. */
        YES
    }

    private final int number;
    private final String code;
    private final Reached reached;
    private final boolean isPassing;
    private final FailureCode group;
    private final String todo;

    FailureCode(int number, String code, Reached reached, boolean isPassing, String todo) {
        this(number, code, reached, isPassing, null, todo);
    }

    FailureCode(int number, String code, FailureCode group, boolean isPassing, String todo) {
        this(number, code, group.reached, isPassing, group, todo);
    }

    FailureCode(int number, String code, Reached reached, boolean isPassing, @Nullable FailureCode group, String todo) {
        this.number = number;
        this.code = code;
        this.reached = reached;
        this.isPassing = isPassing;
        this.group = group;
        this.todo = todo;
    }

    /** For what is kept as bytes: from 1 to 63, the same for ever. */
    public int number() {
        return number;
    }

    /** @return empty for a number that is none */
    public static Optional<FailureCode> numbered(int number) {
        return Arrays.stream(values()).filter(c -> c.number == number).findFirst();
    }

    /** What flows test and people read. */
    public String code() {
        return code;
    }

    public Reached reached() {
        return reached;
    }

    /** Whether it may be otherwise a moment later, with nothing changed. */
    public boolean isPassing() {
        return isPassing;
    }

    /** The code that stands for this one and others like it. */
    public Optional<FailureCode> group() {
        return Optional.ofNullable(group);
    }

    /** What to do, in words. */
    public String todo() {
        return todo;
    }

    /** The one that a code is, or is of the family of. */
    public static Optional<FailureCode> of(String code) {
        return Arrays.stream(values())
                .filter(c -> c.code.equals(code)
                        || (c == HTTP_STATUS || c == FAULT || c == ERROR_INSIDE) && code.startsWith(c.code + " "))
                .findFirst();
    }

    /** For what happened on the way, where no more is known. */
    static FailureCode of(Outcome outcome) {
        return outcome == Outcome.UNREACHABLE ? UNREACHABLE : NO_ANSWER;
    }

    /** This one, or what is all that can be said, where it does not agree with what became of the call. */
    FailureCode fitting(Outcome outcome) {
        Reached wanted =
                switch (outcome) {
                    case UNREACHABLE -> Reached.NO;
                    case IN_DOUBT -> Reached.UNKNOWN;
                    case ANSWERED -> Reached.YES;
                };
        return reached == wanted ? this : of(outcome);
    }

    /**
     * Whether a failure's code is one of these: itself, its group, or all that begin like one that ends with {@code *}.
     */
    public static boolean isAmong(List<String> codes, String code) {
        String group =
                of(code).flatMap(FailureCode::group).map(FailureCode::code).orElse(null);
        return codes.stream()
                .anyMatch(c -> c.endsWith("*")
                        ? code.startsWith(c.substring(0, c.length() - 1))
                        : c.equals(code) || c.equals(group));
    }
}
