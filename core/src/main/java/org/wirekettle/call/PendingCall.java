package org.wirekettle.call;

import java.io.IOException;
import java.util.concurrent.TimeUnit;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.client5.http.protocol.HttpClientContext;
import org.apache.hc.core5.http.ClassicHttpRequest;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.HttpException;
import org.apache.hc.core5.http.impl.io.HttpRequestExecutor;
import org.apache.hc.core5.http.io.HttpClientConnection;
import org.apache.hc.core5.http.io.HttpResponseInformationCallback;
import org.apache.hc.core5.http.protocol.HttpContext;
import org.jspecify.annotations.Nullable;

/**
 * A call under way: whether it has begun to be sent, and why it was ended from outside. Opened, used and closed by the
 * one thread that makes it; any thread may end it.
 */
final class PendingCall implements Deadlines.Pending, AutoCloseable {
    private static final String CALL = "wirekettle.call";

    private final HttpCaller caller;
    private final HttpUriRequestBase request;
    private final String url;
    private final int timeoutMillis;
    private final long startNanos = System.nanoTime();
    private final long deadlineNanos;
    private final WayWatch watch;
    private volatile boolean isSending;
    private volatile TransportWords.@Nullable Told ended;

    /** @param url as it may be shown */
    PendingCall(HttpCaller caller, HttpUriRequestBase request, String url, int timeoutMillis) {
        this.caller = caller;
        this.request = request;
        this.url = url;
        this.timeoutMillis = timeoutMillis;
        this.deadlineNanos = startNanos + TimeUnit.MILLISECONDS.toNanos(timeoutMillis);
        this.watch = WayWatch.begun();
        Deadlines.add(this);
    }

    /** What its request is executed in, so that {@link #marking} finds it. */
    HttpClientContext context() {
        HttpClientContext out = HttpClientContext.create();
        out.setAttribute(CALL, this);
        return out;
    }

    HttpCaller caller() {
        return caller;
    }

    HttpUriRequestBase request() {
        return request;
    }

    String url() {
        return url;
    }

    long startNanos() {
        return startNanos;
    }

    boolean isSending() {
        return isSending;
    }

    /** Why it was ended from outside; null when it was not. */
    TransportWords.@Nullable Told ended() {
        return ended;
    }

    Way way() {
        return watch.way();
    }

    @Override
    public long deadlineNanos() {
        return deadlineNanos;
    }

    @Override
    public void timeIsOver() {
        end(FailureCode.ANSWER_TIMEOUT, "no answer within " + TransportWords.time(timeoutMillis));
    }

    void end(FailureCode as, String because) {
        ended = new TransportWords.Told(as, because);
        request.abort();
    }

    @Override
    public void close() {
        WayWatch.ended();
        Deadlines.remove(this);
    }

    /**
     * Notes when a request begins to be sent: whatever fails before that, a tunnel too, has not reached the service.
     */
    static HttpRequestExecutor marking() {
        return new HttpRequestExecutor() {
            @Override
            public ClassicHttpResponse execute(
                    ClassicHttpRequest sent,
                    HttpClientConnection connection,
                    HttpResponseInformationCallback callback,
                    HttpContext context)
                    throws IOException, HttpException {
                if (!sent.getMethod().equals("CONNECT")) {
                    PendingCall call = (PendingCall) context.getAttribute(CALL);
                    call.isSending = true;
                    call.watch.sends();
                }
                return super.execute(sent, connection, callback, context);
            }
        };
    }
}
