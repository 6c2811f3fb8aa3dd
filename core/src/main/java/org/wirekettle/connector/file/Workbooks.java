package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.dhatim.fastexcel.reader.ExcelReaderException;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.ReadingOptions;
import org.dhatim.fastexcel.reader.Sheet;
import org.wirekettle.xml.SafeXml;

/** The only opener of workbooks (ECMA-376, Office Open XML): what they can inflate has a limit. */
public final class Workbooks {
    /** The texts of all cells are in memory while a sheet is read. */
    private static final long MAX_TEXT_BYTES = 256L * 1024 * 1024;
    /** Sheets are read row by row. */
    private static final long MAX_SHEET_BYTES = 4L * 1024 * 1024 * 1024;

    private static final int MAX_PARTS = 5_000;

    private Workbooks() {}

    static ReadableWorkbook open(Path file) throws IOException {
        check(file);
        try {
            return new ReadableWorkbook(file.toFile(), new ReadingOptions(true, false));
        } catch (ExcelReaderException | IllegalArgumentException | IllegalStateException e) {
            throw new IOException("it is no workbook that can be read: " + e.getMessage(), e);
        }
    }

    private static void check(Path file) throws IOException {
        try (ZipFile zip = new ZipFile(file.toFile())) {
            if (zip.size() > MAX_PARTS) {
                throw new IOException("it has " + zip.size() + " parts; a workbook may have " + MAX_PARTS);
            }
            for (ZipEntry e : (Iterable<ZipEntry>) zip.stream().map(x -> (ZipEntry) x)::iterator) {
                boolean isSheet =
                        e.getName().startsWith("xl/worksheets/") || e.getName().startsWith("xl/media/");
                // What a part says of its size need not be so.
                if (isSheet ? e.getSize() > MAX_SHEET_BYTES : isLongerThan(zip, e, MAX_TEXT_BYTES)) {
                    throw new IOException("its part " + e.getName() + " is larger than a workbook's may be, "
                            + (isSheet ? MAX_SHEET_BYTES : MAX_TEXT_BYTES) / 1024 / 1024 + " MB");
                }
            }
        } catch (ZipException e) {
            throw new IOException("it is no workbook of the kind XLSX: " + e.getMessage(), e);
        }
    }

    private static boolean isLongerThan(ZipFile zip, ZipEntry e, long max) throws IOException {
        if (e.getSize() > max) {
            return true;
        }
        try (InputStream in = zip.getInputStream(e)) {
            byte[] buffer = new byte[1 << 16];
            long sum = 0;
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                sum += n;
                if (sum > max) {
                    return true;
                }
            }
            return false;
        }
    }

    /** Whether its days are counted from 1904 (ECMA-376 part 1 §18.2.28, an xsd:boolean). */
    static boolean is1904(Path file) throws IOException {
        try (ZipFile zip = new ZipFile(file.toFile())) {
            ZipEntry book = zip.getEntry("xl/workbook.xml");
            if (book == null) {
                return false;
            }
            try (InputStream in = zip.getInputStream(book)) {
                XMLStreamReader2 xml = SafeXml.reader(in);
                while (xml.hasNext()) {
                    if (xml.next() == XMLStreamConstants.START_ELEMENT
                            && xml.getLocalName().equals("workbookPr")) {
                        String said = xml.getAttributeValue(null, "date1904");
                        return "1".equals(said) || "true".equals(said);
                    }
                }
                return false;
            } catch (XMLStreamException e) {
                throw new IOException("its part xl/workbook.xml cannot be read: " + e.getMessage(), e);
            }
        }
    }

    /** The names of its sheets, in order. */
    public static List<String> sheets(Path file) throws IOException {
        try (ReadableWorkbook book = open(file)) {
            return book.getSheets().map(Sheet::getName).toList();
        }
    }
}
