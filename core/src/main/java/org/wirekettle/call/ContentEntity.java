package org.wirekettle.call;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import org.apache.hc.core5.http.io.entity.AbstractHttpEntity;
import org.wirekettle.attachment.Content;

/** What is read from files while it is sent; as often as it has to be, such as after a log-in was asked for. */
final class ContentEntity extends AbstractHttpEntity {
    private final Content content;

    ContentEntity(Content content, boolean isChunked) {
        super((String) null, null, isChunked);
        this.content = content;
    }

    @Override
    public long getContentLength() {
        return isChunked() ? -1 : content.length();
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public boolean isStreaming() {
        return false;
    }

    @Override
    public InputStream getContent() {
        throw new UnsupportedOperationException("it is written, not read");
    }

    @Override
    public void writeTo(OutputStream out) throws IOException {
        content.writeTo(out);
    }

    @Override
    public void close() {
        // nothing is open
    }
}
