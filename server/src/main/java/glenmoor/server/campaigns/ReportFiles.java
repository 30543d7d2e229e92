package glenmoor.server.campaigns;

import com.lowagie.text.Document;
import com.lowagie.text.DocumentException;
import com.lowagie.text.Element;
import com.lowagie.text.Font;
import com.lowagie.text.PageSize;
import com.lowagie.text.Paragraph;
import com.lowagie.text.Phrase;
import com.lowagie.text.pdf.BaseFont;
import com.lowagie.text.pdf.PdfPCell;
import com.lowagie.text.pdf.PdfPTable;
import com.lowagie.text.pdf.PdfWriter;
import de.siegmar.fastcsv.writer.CsvWriter;
import glenmoor.engine.Spreadsheets;
import glenmoor.engine.campaigns.ItemViews.ItemShown;
import glenmoor.engine.campaigns.RoundReports.Line;
import glenmoor.engine.campaigns.RoundReports.RoundReport;
import glenmoor.engine.campaigns.RoundReports.Signed;
import java.awt.Color;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.jspecify.annotations.Nullable;

/** The evidence of a round as files: CSV (RFC 4180), XLSX (ISO/IEC 29500) and PDF (ISO 32000). */
final class ReportFiles {
  /** What a sheet of XLSX holds. */
  private static final int MOST_ROWS = 1_048_575;

  private static final int MOST_IN_PDF = 2_000;
  private static final Color RULE = new Color(0xC9, 0xC6, 0xBA);
  private static final Color MUTED = new Color(0x6B, 0x6F, 0x64);
  private static final List<String> HEADING =
      List.of(
          "item",
          "worker",
          "person",
          "detail",
          "kind",
          "what",
          "key",
          "application",
          "account",
          "why",
          "since",
          "last used",
          "idle",
          "conflicts",
          "risk",
          "suggested",
          "reasons",
          "before",
          "state",
          "judgement",
          "decided by",
          "decided at",
          "reason",
          "first",
          "first by",
          "gone at",
          "handed to",
          "answer",
          "note");

  /** Gives items one after the other. */
  interface Items {
    void each(Consumer<ItemShown> item);
  }

  private final RoundReport report;
  private final Items items;
  private final DateTimeFormatter moments;

  ReportFiles(RoundReport report, Items items) {
    this.report = report;
    this.items = items;
    moments =
        DateTimeFormatter.ofPattern("d MMM yyyy HH:mm:ss", Locale.ENGLISH)
            .withZone(ZoneId.of(report.zone()));
  }

  private String at(@Nullable Instant moment) {
    return moment == null ? "" : moments.format(moment);
  }

  private static String iso(@Nullable Instant moment) {
    return moment == null ? "" : moment.toString();
  }

  private static List<String> row(ItemShown item) {
    return List.of(
        String.valueOf(item.id()),
        item.worker(),
        item.person(),
        item.detail(),
        item.kind(),
        item.name(),
        item.target(),
        item.applicationName(),
        item.account(),
        item.why(),
        iso(item.since()),
        iso(item.lastUsed()),
        item.idle() ? "yes" : "",
        String.join("; ", item.conflicts()),
        item.risk(),
        item.suggestion(),
        String.join(" ", item.reasons()),
        item.before(),
        item.state(),
        item.judgement(),
        item.decidedBy(),
        iso(item.decidedAt()),
        item.reason(),
        item.first(),
        item.firstBy(),
        iso(item.overAt()),
        item.handedTo(),
        item.answer(),
        item.note());
  }

  /** All items, a line each. */
  void csv(OutputStream out) throws IOException {
    try (var csv = CsvWriter.builder().build(new OutputStreamWriter(out, StandardCharsets.UTF_8))) {
      csv.writeRecord(HEADING);
      items.each(item -> csv.writeRecord(row(item).stream().map(Spreadsheets::harmless).toList()));
    }
  }

  /** What it comes to, who signed what, and all items, a sheet each. */
  void xlsx(OutputStream out) throws IOException {
    try (var book = new Workbook(out, "Glenmoor", "1.0")) {
      var about = book.newWorksheet("Round");
      var line = 0;
      for (var each : overview()) {
        about.value(line, 0, each.what());
        about.value(line++, 1, each.said());
      }
      about.finish();
      var signed = book.newWorksheet("Reviewers");
      heading(signed, List.of("reviewer", "look", "signed off", "by", "digest", "stands"));
      var number = 1;
      for (var each : report.signed()) {
        cells(signed, number++, cells(each));
      }
      signed.finish();
      var sheet = book.newWorksheet("Items");
      heading(sheet, HEADING);
      var at = new int[] {0};
      items.each(item -> {
        if (++at[0] <= MOST_ROWS) {
          cells(sheet, at[0], row(item));
          if (at[0] % 1_000 == 0) {
            flush(sheet);
          }
        }
      });
      sheet.finish();
    }
  }

  private static void flush(Worksheet sheet) {
    try {
      sheet.flush();
    } catch (IOException failed) {
      throw new java.io.UncheckedIOException(failed);
    }
  }

  private static void heading(Worksheet sheet, List<String> names) {
    cells(sheet, 0, names);
    sheet.range(0, 0, 0, names.size() - 1).style().bold().set();
    sheet.freezePane(0, 1);
  }

  private static void cells(Worksheet sheet, int row, List<String> values) {
    for (var column = 0; column < values.size(); column++) {
      // A cell of text is never read as a formula.
      sheet.value(row, column, values.get(column));
    }
  }

  private List<String> cells(Signed each) {
    return List.of(
        each.reviewer(),
        each.level() > 1 ? "second" : "first",
        at(each.at()),
        each.by(),
        each.digest(),
        each.digest().isEmpty() ? "" : each.stands() ? "as signed" : "changed since");
  }

  private List<Line> overview() {
    var shown = report.round();
    var round = shown.round();
    var mix = shown.mix();
    var lines = new ArrayList<Line>();
    lines.add(new Line("Campaign", round.name() + " (" + round.campaign() + ")"));
    lines.add(new Line("Round", String.valueOf(round.id())));
    if (!round.about().isEmpty()) {
      lines.add(new Line("About", round.about()));
    }
    lines.addAll(report.scope());
    lines.add(new Line("As of", at(round.asOf())));
    lines.add(new Line("Launched by", shown.launchedBy()));
    lines.add(new Line("Over on", at(round.dueAt())));
    lines.add(new Line("State", round.state()));
    lines.add(new Line("Ended", at(round.endedAt())));
    lines.add(new Line("Items", "%,d of %,d people".formatted(round.items(), round.people())));
    lines.add(
        new Line(
            "Decisions",
            "%,d kept, %,d revoked, %,d ended by themselves, %,d undecided"
                .formatted(mix.kept(), mix.revoked(), mix.ended(), mix.undecided())));
    lines.add(
        new Line(
            "Revoked",
            "%,d confirmed gone, %,d handed to somebody, %,d given anew since, %,d not confirmed"
                .formatted(
                    state("gone"),
                    state("handed"),
                    state("again"),
                    state("announced") + state("removing"))));
    var compared = shown.compared();
    if (compared != null) {
      lines.add(
          new Line(
              "Beside the round before",
              "%,d new, %,d gone, %,d in both; of %,d revoked then %,d are back"
                  .formatted(
                      compared.added(),
                      compared.gone(),
                      compared.stayed(),
                      compared.revokedThen(),
                      compared.back())));
    }
    lines.add(new Line("Written", at(report.written()) + ", " + report.zone()));
    return lines;
  }

  private int state(String word) {
    return report.round().states().getOrDefault(word, 0);
  }

  /**
   * The same to be read: the round, who signed what, what was revoked, late ones and exceptions.
   */
  void pdf(OutputStream out) {
    var document = new Document(PageSize.A4.rotate(), 40, 40, 40, 40);
    try {
      PdfWriter.getInstance(document, out);
      document.addTitle(report.round().round().name());
      document.addCreator("Glenmoor");
      document.open();
      var text = new Font(base("Regular"), 9);
      var bold = new Font(base("Bold"), 9);
      var title = new Font(base("Bold"), 18);
      var muted = new Font(base("Regular"), 8, Font.NORMAL, MUTED);
      document.add(new Paragraph(report.round().round().name(), title));
      var about = new PdfPTable(new float[] {1, 4});
      about.setWidthPercentage(100);
      about.setSpacingBefore(8);
      for (var line : overview()) {
        about.addCell(cell(line.what(), muted));
        about.addCell(cell(line.said(), text));
      }
      document.add(about);
      part(document, "Who signed what", bold);
      table(
          document,
          new float[] {3, 1, 2.4f, 1.6f, 5, 1.6f},
          List.of("Reviewer", "Look", "Signed off", "By", "SHA-256 of the decisions", ""),
          report.signed().stream().map(this::cells).toList(),
          text,
          muted);
      section(document, "Revoked", item -> item.judgement().equals("revoke"), bold, text, muted);
      section(
          document,
          "Decided by the closing rule",
          item -> item.decidedBy().equals("glenmoor"),
          bold,
          text,
          muted);
      section(
          document,
          "Exceptions: kept against the suggestion, answered, handed on, or given anew",
          ReportFiles::exception,
          bold,
          text,
          muted);
      document.close();
    } catch (DocumentException | IOException failed) {
      throw new IllegalStateException("The report cannot be written", failed);
    }
  }

  private static boolean exception(ItemShown item) {
    return item.judgement().equals("keep") && item.suggestion().equals("revoke")
        || !item.answer().isEmpty()
        || item.state().equals("handed")
        || item.state().equals("again");
  }

  private static BaseFont base(String weight) throws IOException {
    return BaseFont.createFont(
        "/liberation/LiberationSans-%s.ttf".formatted(weight), BaseFont.IDENTITY_H, true);
  }

  private static void part(Document document, String heading, Font font) throws DocumentException {
    var paragraph = new Paragraph(heading, new Font(font.getBaseFont(), 12));
    paragraph.setSpacingBefore(14);
    paragraph.setSpacingAfter(4);
    document.add(paragraph);
  }

  private void section(
      Document document,
      String heading,
      Predicate<ItemShown> which,
      Font bold,
      Font text,
      Font muted)
      throws DocumentException {
    var rows = new ArrayList<List<String>>();
    var all = new int[] {0};
    items.each(item -> {
      if (which.test(item) && ++all[0] <= MOST_IN_PDF) {
        rows.add(
            List.of(
                item.person().isEmpty() ? item.account() : item.person(),
                item.name(),
                item.applicationName(),
                item.judgement(),
                item.decidedBy(),
                at(item.decidedAt()),
                String.join(
                    " ",
                    List.of(
                        item.reason(),
                        item.answer().isEmpty() ? "" : "Holder: " + item.answer(),
                        item.note())),
                said(item)));
      }
    });
    part(document, "%s: %,d".formatted(heading, all[0]), bold);
    if (rows.isEmpty()) {
      document.add(new Paragraph("None.", muted));
      return;
    }
    table(
        document,
        new float[] {2.4f, 2.6f, 1.8f, 1, 1.2f, 2, 4, 2.6f},
        List.of("Person", "What", "In", "", "By", "When", "Why", "What became of it"),
        rows,
        text,
        muted);
    if (all[0] > MOST_IN_PDF) {
      document.add(
          new Paragraph(
              "The first %,d of %,d; all of them are in the CSV and XLSX reports."
                  .formatted(MOST_IN_PDF, all[0]),
              muted));
    }
  }

  private String said(ItemShown item) {
    return switch (item.state()) {
      case "gone" -> "gone, " + at(item.overAt());
      case "handed" -> "%s sees to it".formatted(item.handedTo());
      case "again" -> "given anew since";
      case "removing" -> "not confirmed yet";
      default -> item.state();
    };
  }

  private static void table(
      Document document,
      float[] widths,
      List<String> heading,
      List<List<String>> rows,
      Font text,
      Font muted)
      throws DocumentException {
    var table = new PdfPTable(widths);
    table.setWidthPercentage(100);
    table.setHeaderRows(1);
    heading.forEach(each -> table.addCell(cell(each, muted)));
    rows.forEach(row -> row.forEach(each -> table.addCell(cell(each, text))));
    document.add(table);
  }

  private static PdfPCell cell(String said, Font font) {
    var cell = new PdfPCell(new Phrase(said, font));
    cell.setBorder(PdfPCell.BOTTOM);
    cell.setBorderColor(RULE);
    cell.setPadding(4);
    cell.setVerticalAlignment(Element.ALIGN_TOP);
    return cell;
  }
}
