<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Curl;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Seen\Endpoints;
use DeepSpring\Describe\Seen\SeenRequest;
use DeepSpring\Describe\UnreadableCommand;
use DeepSpring\Value\Kind\Kind;

final class CurlImporter implements Importer
{
    public static function kind(): Kind
    {
        return new Kind('curl', 'cURL commands', 'One or several, as browsers, documentation and colleagues write them; an address alone is read as well.');
    }

    public function recognises(ImportInput $given): bool
    {
        return strlen($given->text) < 2_000_000 && (CurlCommand::looksLikeOne($given->text) || preg_match('~^\s*https?://\S+\s*$~i', $given->text) === 1);
    }

    public function read(ImportInput $given): array
    {
        $given = new ImportInput(mb_scrub($given->text, 'UTF-8'), $given->name, $given->address, $given->files, $given->bases);
        try {
            $commands = CurlCommand::all(preg_match('~^\s*(https?://\S+)\s*$~i', $given->text, $part) === 1 ? "curl '".strtr($part[1], ["'" => '%27'])."'" : $given->text, $given->files);
        } catch (UnreadableCommand $unreadable) {
            throw CannotDescribe::because($unreadable->getMessage());
        }
        if ($commands === []) {
            throw CannotDescribe::because('There is no cURL command in this.');
        }
        $mends = [];
        $requests = [];
        foreach ($commands as $command) {
            $place = $command->method.' '.parse_url($command->url, PHP_URL_PATH);
            foreach ($command->unknown as $option) {
                $mends[] = ImportNotice::leftOut($place, "The option $option is not understood here; check whether the request needs it.");
            }
            foreach ($command->missing as $file) {
                $mends[] = ImportNotice::leftOut($place, "The command reads the file $file. Add it beside the command, or fill in its content by hand.");
            }
            foreach ($command->notes as $note) {
                $mends[] = ImportNotice::note($place, $note);
            }
            $requests[] = new SeenRequest($command->method, $command->url, $command->headers, $command->user, $command->body, $command->parts, $command->missing);
        }

        return [(new Endpoints($given->bases))->describe('curl', '', $requests, $mends)];
    }
}
